// Units, speeds and rates, life, numbers of pieces.
#include <cmath>

#include "core/fatigue/sn_line.h"
#include "core/plan/plan.h"
#include "core/slate/parts.h"
#include "core/statistics/relation.h"
#include "core/statistics/sample.h"

namespace fortitor::slate {

using D = Dimension;

std::string shown(double value, Dimension d, int figures) {
  return format_value(value, d, UnitSet::si, figures);
}

Line line(std::string name, std::string expression, std::string with, double value, Dimension d, std::string source,
          int figures) {
  return {std::move(name), Step{std::move(expression), std::move(with), value, d, std::move(source)}, figures, {}};
}

void add_other(std::vector<Calculator>& all) {
  all.push_back({"convert",
                 "Units",
                 {"convert", "units"},
                 {{"text", "Quantity", D::none, "2 5/8 in"}, {"unit", "in", D::none, "mm"}},
                 "2 5/8 in to mm",
                 "",
                 {}});
  // The wanted unit says which dimension an ambiguous spelling (t, lb, in·lbf) has; both are words here.
  Calculator& convert = all.back();
  for (Input& i : convert.inputs) i.free_text = true;
  convert.work = [](const Inputs& in) -> Outcome<std::vector<Line>> {
    const std::string typed = in.word("text"), wanted = in.word("unit");
    const auto c = fortitor::convert(typed, wanted);
    if (!c) return c.error();
    const Quantity* q = &c->from;
    const Unit* unit = c->unit;
    const double v = c->value;
    const std::string from =
        q->unit != nullptr ? std::string(q->unit->symbol) : std::string(internal_symbol(unit->dimension));
    const double ratio = (q->unit != nullptr ? q->unit->factor : 1.0) / unit->factor;
    Line out = line("", q->text(),
                    unit->offset != 0 || (q->unit != nullptr && q->unit->offset != 0)
                        ? "steps of 1 " + from + " are " + plain_number(ratio, 10) + " " + std::string(unit->symbol)
                        : "1 " + from + " = " + plain_number(ratio, 10) + " " + std::string(unit->symbol),
                    v, D::none);
    out.text = significant(v, 10) + " " + std::string(unit->symbol);
    // Trailing zeros of ten figures say nothing.
    const size_t space = out.text.find(' ');
    std::string number = out.text.substr(0, space);
    if (number.find('.') != std::string::npos && number.find("·") == std::string::npos) {
      while (number.back() == '0') number.pop_back();
      if (number.back() == '.') number.pop_back();
    }
    out.text = number + out.text.substr(space);
    return std::vector<Line>{out};
  };
  all.push_back({"speed",
                 "Speed for a strain rate",
                 {"speed", "strain rate"},
                 {{"rate", "Strain rate", D::strain_rate, "0.00025 1/s"},
                  {"length", "Parallel length", D::length, "60 mm"},
                  {"e", "Modulus", D::modulus, "206 GPa", true},
                  {"area", "Section", D::area, "78.5 mm²", true},
                  {"stiffness", "Frame stiffness", D::stiffness, "40 kN/mm", true}},
                 "speed 0.00025 1/s 60 mm",
                 "",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const double rate = in.number("rate"), l = in.number("length");
                   const bool soft = in.has("e") && in.has("area") && in.has("stiffness");
                   std::vector<Line> out;
                   if (soft)
                     out.push_back(line(
                         "crosshead speed", "v = ė·(L_c + E·S₀/k)",
                         "E = " + shown(in.number("e"), D::modulus) + ", S₀ = " + shown(in.number("area"), D::area) +
                             ", k = " + shown(in.number("stiffness"), D::stiffness),
                         speed_for_strain_rate(rate, l, in.number("e"), in.number("area"), in.number("stiffness")),
                         D::speed, "ISO 6892-1, compliance", 3));
                   out.push_back(line(soft ? "on a stiff frame" : "crosshead speed", "v = ė·L_c",
                                      plain_number(rate, 4) + " 1/s · " + shown(l, D::length), rate * l, D::speed, "",
                                      3));
                   if (in.has("e"))
                     out.push_back(line("samples a second", "50 points below a yield strain of 0.2 %", "",
                                        sampling_for(0.002, rate), D::frequency, "", 3));
                   return out;
                 }});
  all.push_back({"life",
                 "Life at a stress range",
                 {"life", "sn", "s-n"},
                 {{"range", "Stress range", D::stress, "90 MPa"}, {"category", "Detail category", D::stress, "71 MPa"}},
                 "life 90 MPa 71 MPa",
                 "",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const fatigue::DetailLine detail{in.number("category")};
                   const double r = in.number("range"), n = detail.life(r);
                   Line life = line("cycles", "N = 2·10⁶·(Δσ_C/Δσ)³ to 5·10⁶, slope 5 to 10⁸",
                                    "Δσ = " + shown(r, D::stress) + ", Δσ_C = " + shown(detail.category, D::stress), n,
                                    D::none, "EN 1993-1-9", 3);
                   return std::vector<Line>{life,
                                            line("range at 5·10⁶", "0.737·Δσ_C", shown(detail.category, D::stress),
                                                 detail.knee(), D::stress, "", 3),
                                            line("cut-off at 10⁸", "0.405·Δσ_C", shown(detail.category, D::stress),
                                                 detail.cut_off(), D::stress, "", 3)};
                 },
                 "A mean life of details is no life of this piece; design by the code."});
  all.push_back({"pieces",
                 "Number of pieces",
                 {"pieces", "sample size"},
                 {{"sd", "They scatter by (s)", D::none, "8"}, {"half", "Mean wanted within ±", D::none, "5"}},
                 "pieces 8 5",
                 "",
                 [](const Inputs& in) -> Outcome<std::vector<Line>> {
                   const auto n = statistics::pieces_for(in.number("sd"), in.number("half"));
                   if (!n) return InputError{"That would take more than a million pieces.", {}};
                   Line out =
                       line("pieces", "least n with t(0.975, n − 1)·s/√n ≤ Δ",
                            "s = " + plain_number(in.number("sd"), 5) + ", Δ = " + plain_number(in.number("half"), 5),
                            double(*n), D::none, "Student's t, 95 %");
                   out.text = std::to_string(*n);
                   return std::vector<Line>{out};
                 }});
}

const std::vector<Calculator>& calculators() {
  static const std::vector<Calculator> all = [] {
    std::vector<Calculator> out;
    add_strength(out);
    add_hardness(out);
    add_impact(out);
    add_other(out);
    return out;
  }();
  return all;
}

}  // namespace fortitor::slate
