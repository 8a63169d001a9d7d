#include <algorithm>
#include <cmath>

#include "core/language/language.h"
#include "core/methods/support/fields.h"
#include "core/methods/support/ledger.h"
#include "core/methods/tension_metal/model.h"
#include "core/quantity/plain.h"
#include "core/record/words.h"

namespace fortitor::tension {
namespace {

using D = Dimension;
using R = RoundingClass;
using ledger::spec_of;

const std::vector<ResultSpec>& table() {
  // The order of the ledger.
  static const std::vector<ResultSpec> specs = {
      spec_of(key::e_modulus, "E", D::modulus, R::other, 4, true),
      spec_of(key::reh, "R_eH", D::stress, R::strength, 4, true),
      spec_of(key::rel, "R_eL", D::stress, R::strength, 4, true),
      spec_of(key::rt05, "R_t0.5", D::stress, R::strength, 4, false),
      spec_of(key::rm, "R_m", D::stress, R::strength, 4, true),
      spec_of(key::rm_top, "R_m,0", D::stress, R::strength, 4, false),
      spec_of(key::a, "A", D::elongation, R::elongation, 3, true),
      spec_of(key::z, "Z", D::elongation, R::reduction, 3, true),
      spec_of(key::agt, "A_gt", D::elongation, R::elongation, 3, false),
      spec_of(key::ag, "A_g", D::elongation, R::elongation, 3, true),
      spec_of(key::at, "A_t", D::elongation, R::elongation, 3, false),
      spec_of(key::a_ext, "A_ext", D::elongation, R::elongation, 3, false),
      spec_of(key::ae, "A_e", D::elongation, R::yield_elongation, 3, true),
      spec_of(key::a_equiv, "A_eq", D::elongation, R::elongation, 3, false),
      spec_of(key::yield_ratio, "Y/T", D::none, R::other, 3, false),
      spec_of(key::yielding, "yielding", D::none, R::other, 0, false, true),
      spec_of(key::n_value, "n", D::none, R::other, 3, false),
      spec_of(key::k_strength, "K", D::stress, R::other, 4, false),
      spec_of(key::r_value, "r", D::none, R::other, 3, false),
      spec_of(key::resilience, "U_r", D::energy_density, R::other, 3, false),
      spec_of(key::toughness, "U_t", D::energy_density, R::other, 3, false),
      spec_of(key::fm, "F_m", D::force, R::other, 4, false, true),
      spec_of(key::area, "S_0", D::area, R::other, 4, false, true),
      spec_of(key::proportional_length, "5.65·√S_0", D::length, R::other, 4, false),
      spec_of(key::toe_shift, "ε_0", D::strain, R::other, 2, false),
      spec_of(key::modulus_from, "R_from", D::stress, R::other, 3, false),
      spec_of(key::modulus_to, "R_to", D::stress, R::other, 3, false),
      spec_of(key::modulus_r2, "R²", D::none, R::other, 6, false),
      spec_of(key::modulus_slope_error, "s_E", D::strain, R::other, 2, false),
      spec_of(key::stress_rate, "Ṙ", D::stress_rate, R::other, 3, false),
      spec_of(key::strain_rate, "ė_y", D::strain_rate, R::other, 2, false),
      spec_of(key::strain_rate_rm, "ė_m", D::strain_rate, R::other, 2, false),
      spec_of(key::ductility, "look", D::none, R::other, 0, false),
  };
  return specs;
}

constexpr double kSameOffset = 1e-6;  // ratio: the last digit that a key says

}  // namespace

std::string offset_key(double offset) {
  // 0.2 % → "02", 1 % → "1", 0.15 % → "015": the percent number without its point.
  std::string digits = plain::fixed(offset * 100, 4);
  while (digits.back() == '0') digits.pop_back();
  std::erase(digits, '.');
  return "rp" + digits;
}

std::optional<double> offset_of_key(const std::string& key) {
  if (key.size() < 3 || key.compare(0, 2, "rp") != 0) return std::nullopt;
  std::string digits = key.substr(2);
  if (digits.find_first_not_of("0123456789") != std::string::npos || digits.size() > 6) return std::nullopt;
  if (digits.size() > 1 && digits.back() == '0')
    return std::nullopt;  // no offset has this key: 1 % is "rp1", 10 % has none
  digits.insert(1, ".");
  const double percent = plain::number(digits).value_or(0);
  if (!(percent > 0)) return std::nullopt;
  return percent / 100;
}

// 12 % and 1.2 % would have one key: the strength of the one stood once under the name of the other, and 2.5 % had
// none.
bool offset_taken(double offset) {
  const auto said = offset_of_key(offset_key(offset));
  return said && std::abs(*said - offset) < kSameOffset;
}

std::optional<ResultSpec> result_spec(const std::string& key) {
  if (auto spec = ledger::find_spec(table(), key)) {
    ledger::name_result(*spec, "tension-metal");
    return spec;
  }
  if (const auto offset = offset_of_key(key)) {
    const std::string percent = significant(*offset * 100, 4);
    std::string plain = percent;
    if (plain.find('.') != std::string::npos) {
      while (plain.back() == '0') plain.pop_back();
      if (plain.back() == '.') plain.pop_back();
    }
    ResultSpec spec = spec_of(key, "R_p" + plain, D::stress, R::strength, 4, true);
    spec.name = Tongue()(Words::of("tension-metal").result(key::rp), {{"offset", plain}});
    return spec;
  }
  return std::nullopt;
}

std::vector<ResultSpec> results(const TestRecord& record) {
  std::vector<ResultSpec> out;
  for (const ResultSpec& s : table()) {
    out.push_back(s);
    if (s.key == key::rel)  // proof strengths stand after the yield strengths
      for (double offset : inputs_of(record, {}).offsets) out.push_back(*result_spec(offset_key(offset)));
  }
  return out;
}

}  // namespace fortitor::tension
