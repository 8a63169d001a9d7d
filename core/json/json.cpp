#include "core/json/json.h"

#include <algorithm>
#include <nlohmann/json.hpp>
#include <numeric>
#include <utility>

namespace fortitor {
namespace {

constexpr size_t kDeepest = 200;  // a document of this house has a dozen

}  // namespace

// Builds a value out of what nlohmann's parser meets.
class JsonReader : public nlohmann::json_sax<nlohmann::json> {
 public:
  Json out;
  size_t byte = 0;
  bool syntax = true;
  std::string what;

  bool null() override { return put(nullptr); }
  bool boolean(bool v) override { return put(v); }
  bool number_integer(number_integer_t v) override { return put(static_cast<long long>(v)); }
  bool number_unsigned(number_unsigned_t v) override { return put(static_cast<unsigned long long>(v)); }
  bool number_float(number_float_t v, const string_t&) override { return put(v); }
  bool string(string_t& v) override { return put(std::move(v)); }
  bool binary(binary_t&) override { return false; }
  bool start_object(std::size_t) override { return open(Json::object()); }
  bool key(string_t& v) override {
    Json::Members& members = open_.back()->members();
    members.push_back({std::move(v), {}});
    key_ = &members.back().second;
    return true;
  }
  bool end_object() override {
    once_each(open_.back()->members());
    return close();
  }
  bool start_array(std::size_t) override { return open(Json::array()); }
  bool end_array() override { return close(); }
  bool parse_error(std::size_t position, const std::string&, const nlohmann::detail::exception& e) override {
    byte = position;
    syntax = dynamic_cast<const nlohmann::detail::parse_error*>(&e) != nullptr;
    what = e.what();
    return false;
  }

 private:
  Json* place(Json v) {
    if (open_.empty()) return &(out = std::move(v));
    if (key_ != nullptr) return &(*std::exchange(key_, nullptr) = std::move(v));
    open_.back()->push_back(std::move(v));
    return &(*open_.back())[open_.back()->size() - 1];
  }
  bool put(Json v) {
    place(std::move(v));
    return true;
  }
  bool open(Json v) {
    if (open_.size() >= kDeepest) {
      what = "values lie within values too deep";
      return false;
    }
    open_.push_back(place(std::move(v)));
    return true;
  }
  bool close() {
    open_.pop_back();
    return true;
  }
  // Of a key that stands twice the last value counts, at the place of the first. Looked for when all are there: one by
  // one, a million keys would take for ever.
  static void once_each(Json::Members& members) {
    std::vector<size_t> order(members.size());
    std::iota(order.begin(), order.end(), size_t(0));
    std::stable_sort(order.begin(), order.end(),
                     [&](size_t a, size_t b) { return members[a].first < members[b].first; });
    std::vector<bool> again(members.size());
    for (size_t i = 0; i + 1 < order.size();) {
      size_t last = i;
      while (last + 1 < order.size() && members[order[last + 1]].first == members[order[i]].first)
        again[order[++last]] = true;
      if (last > i) members[order[i]].second = std::move(members[order[last]].second);
      i = last + 1;
    }
    size_t at = 0;
    std::erase_if(members, [&](const Json::Member&) { return again[at++]; });
  }
  // An open value stays where it is while values are put into it: its elders do not grow meanwhile.
  std::vector<Json*> open_;
  Json* key_ = nullptr;
};

namespace {

nlohmann::ordered_json written(const Json& j) {
  using Out = nlohmann::ordered_json;
  if (j.is_object()) {
    Out out = Out::object();
    auto& members = out.get_ref<Out::object_t&>();
    members.reserve(j.size());
    // Keys are different already: looking each up again would take the square of their number.
    for (const auto& [key, value] : j.items())
      static_cast<std::vector<Out::object_t::value_type>&>(members).emplace_back(key, written(value));
    return out;
  }
  if (j.is_array()) {
    Out out = Out::array();
    auto& list = out.get_ref<Out::array_t&>();
    list.reserve(j.size());
    for (const Json& value : j) list.push_back(written(value));
    return out;
  }
  if (j.is_string()) return j.get<std::string>();
  if (j.is_boolean()) return j.get<bool>();
  if (j.is_number_unsigned()) return j.get<unsigned long>();
  if (j.is_number_integer()) return j.get<long long>();
  if (j.is_number()) return j.get<double>();
  return nullptr;
}

}  // namespace

Json::Json(bool v) : kind_(Kind::boolean) {
  is_.boolean = v;
}
Json::Json(long long v) : kind_(Kind::whole) {
  is_.whole = v;
}
Json::Json(unsigned long long v) : kind_(Kind::natural) {
  is_.natural = v;
}
Json::Json(double v) : kind_(Kind::real) {
  is_.real = v;
}
Json::Json(std::string text) : kind_(Kind::text) {
  is_.text = new std::string(std::move(text));
}
Json::Json(List list) : kind_(Kind::list) {
  is_.list = new List(std::move(list));
}
Json::Json(const std::vector<std::string>& list) : Json(List(list.begin(), list.end())) {}
Json::Json(const std::vector<double>& list) : Json(List(list.begin(), list.end())) {}

Json::Json(const std::map<std::string, double>& members) : Json(object()) {
  for (const auto& [key, value] : members) is_.members->push_back({key, value});
}

Json::Json(std::initializer_list<Json> values) {
  const bool pairs = std::all_of(values.begin(), values.end(),
                                 [](const Json& v) { return v.is_array() && v.size() == 2 && v[0].is_string(); });
  *this = pairs ? object() : array(values);
  if (!pairs) return;
  for (const Json& v : values)
    if (const auto key = v[0].get<std::string>(); !contains(key)) (*this)[key] = v[1];
}

Json::Json(const Json& other) : kind_(other.kind_), is_(other.is_) {
  if (kind_ == Kind::text) is_.text = new std::string(*other.is_.text);
  if (kind_ == Kind::list) is_.list = new List(*other.is_.list);
  if (kind_ == Kind::object) is_.members = new Members(*other.is_.members);
}

Json::Json(Json&& other) noexcept {
  take(other);
}

Json& Json::operator=(Json other) noexcept {
  std::swap(kind_, other.kind_);
  std::swap(is_, other.is_);
  return *this;
}

Json::~Json() {
  if (kind_ == Kind::text) delete is_.text;
  if (kind_ == Kind::list) delete is_.list;
  if (kind_ == Kind::object) delete is_.members;
}

void Json::take(Json& other) noexcept {
  kind_ = std::exchange(other.kind_, Kind::null);
  is_ = std::exchange(other.is_, {.natural = 0});
}

Json Json::array(std::initializer_list<Json> values) {
  return Json(List(values));
}

Json Json::object() {
  Json j;
  j.kind_ = Kind::object;
  j.is_.members = new Members;
  return j;
}

Json Json::parse(std::string_view text) {
  JsonReader reader;
  if (!nlohmann::json::sax_parse(text.begin(), text.end(), &reader))
    throw ParseError(reader.what, reader.byte, reader.syntax && reader.byte > 0);
  return std::move(reader.out);
}

Json Json::read(std::string_view text) {
  JsonReader reader;
  if (nlohmann::json::sax_parse(text.begin(), text.end(), &reader)) return std::move(reader.out);
  Json none;
  none.kind_ = Kind::discarded;
  return none;
}

std::string Json::dump(int indent) const {
  return written(*this).dump(indent, ' ', false, nlohmann::ordered_json::error_handler_t::replace);
}

void Json::wrong(const char* wanted) const {
  throw Error(std::string("JSON: wanted ") + wanted + ", there is " + dump().substr(0, 60));
}

size_t Json::size() const {
  if (kind_ == Kind::list) return is_.list->size();
  if (kind_ == Kind::object) return is_.members->size();
  return is_null() || is_discarded() ? 0 : 1;
}

const Json* Json::find(std::string_view key) const {
  for (const Member& m : items())
    if (m.first == key) return &m.second;
  return nullptr;
}

const Json& Json::at(std::string_view key) const {
  if (!is_object()) wrong("an object");
  const Json* found = find(key);
  if (found == nullptr) throw Error("JSON: there is no “" + std::string(key) + "”");
  return *found;
}

const Json& Json::operator[](size_t i) const {
  if (!is_array() || i >= is_.list->size()) wrong("a list that is long enough");
  return (*is_.list)[i];
}

Json& Json::operator[](std::string_view key) {
  for (Member& m : members())
    if (m.first == key) return m.second;
  return members().emplace_back(Member{std::string(key), {}}).second;
}

Json& Json::operator[](size_t i) {
  return const_cast<Json&>(std::as_const(*this)[i]);
}

Json::List& Json::list() {
  if (is_null()) *this = array();
  if (!is_array()) wrong("a list");
  return *is_.list;
}

Json::Members& Json::members() {
  if (is_null()) *this = object();
  if (!is_object()) wrong("an object");
  return *is_.members;
}

template <>
std::string Json::get<std::string>() const {
  if (!is_string()) wrong("text");
  return *is_.text;
}
template <>
bool Json::get<bool>() const {
  if (!is_boolean()) wrong("true or false");
  return is_.boolean;
}
template <>
double Json::get<double>() const {
  if (kind_ == Kind::real) return is_.real;
  if (kind_ == Kind::whole) return double(is_.whole);
  if (kind_ == Kind::natural) return double(is_.natural);
  wrong("a number");
}
template <>
long long Json::get<long long>() const {
  if (kind_ == Kind::whole) return is_.whole;
  if (kind_ == Kind::natural) return static_cast<long long>(is_.natural);
  const double v = get<double>();
  if (!(v > -9.2e18 && v < 9.2e18)) wrong("a whole number");
  return static_cast<long long>(v);
}
template <>
unsigned long Json::get<unsigned long>() const {
  return kind_ == Kind::natural ? static_cast<unsigned long>(is_.natural)
                                : static_cast<unsigned long>(get<long long>());
}
template <>
long Json::get<long>() const {
  return static_cast<long>(get<long long>());
}
template <>
int Json::get<int>() const {
  return static_cast<int>(get<long long>());
}
template <>
std::vector<double> Json::get<std::vector<double>>() const {
  if (!is_array()) wrong("a list");
  std::vector<double> out;
  for (const Json& v : *this) out.push_back(v.get<double>());
  return out;
}
template <>
std::vector<std::string> Json::get<std::vector<std::string>>() const {
  if (!is_array()) wrong("a list");
  std::vector<std::string> out;
  for (const Json& v : *this) out.push_back(v.get<std::string>());
  return out;
}

void Json::push_back(Json value) {
  list().push_back(std::move(value));
}

void Json::erase(std::string_view key) {
  std::erase_if(members(), [&](const Member& m) { return m.first == key; });
}

void Json::update(const Json& other) {
  for (const auto& [key, value] : other.items()) (*this)[key] = value;
}

void Json::merge_patch(const Json& other) {
  if (!other.is_object()) {
    *this = other;
    return;
  }
  if (!is_object()) *this = object();
  for (const auto& [key, value] : other.items()) {
    if (value.is_null())
      erase(key);
    else
      (*this)[key].merge_patch(value);
  }
}

void Json::sort_keys() {
  if (is_array())
    for (Json& v : *is_.list) v.sort_keys();
  if (!is_object()) return;
  std::sort(is_.members->begin(), is_.members->end(),
            [](const Member& a, const Member& b) { return a.first < b.first; });
  for (Member& m : *is_.members) m.second.sort_keys();
}

const Json* Json::begin() const {
  return is_array() ? is_.list->data() : nullptr;
}
const Json* Json::end() const {
  return is_array() ? is_.list->data() + is_.list->size() : nullptr;
}
Json* Json::begin() {
  return is_array() ? is_.list->data() : nullptr;
}
Json* Json::end() {
  return is_array() ? is_.list->data() + is_.list->size() : nullptr;
}

const Json::Members& Json::items() const {
  static const Members none;
  return is_object() ? *is_.members : none;
}

bool operator==(const Json& a, const Json& b) {
  if (a.is_number() && b.is_number()) return a.get<double>() == b.get<double>();
  if (a.kind_ != b.kind_) return false;
  switch (a.kind_) {
    case Json::Kind::boolean: return a.is_.boolean == b.is_.boolean;
    case Json::Kind::text: return *a.is_.text == *b.is_.text;
    case Json::Kind::list: return *a.is_.list == *b.is_.list;
    case Json::Kind::object: {
      if (a.size() != b.size()) return false;
      return std::all_of(a.items().begin(), a.items().end(), [&](const Json::Member& m) {
        const Json* other = b.find(m.first);
        return other != nullptr && *other == m.second;
      });
    }
    default: return true;
  }
}

bool operator==(const Json& a, const char* text) {
  return a.is_string() && *a.is_.text == text;
}

}  // namespace fortitor
