// JSON as a value: what was read keeps the order of its keys. Reading and writing are nlohmann's, in one file; nobody
// else includes its headers, which were a twentieth of a build.
#pragma once

#include <cstdint>
#include <initializer_list>
#include <map>
#include <stdexcept>
#include <string>
#include <string_view>
#include <vector>

namespace fortitor {

class Json {
 public:
  struct Member;
  using List = std::vector<Json>;
  using Members = std::vector<Member>;

  /// A key that is not there, a value of another kind. The message is for developers.
  struct Error : std::runtime_error {
    using std::runtime_error::runtime_error;
  };
  /// A text that is no JSON, from this byte on (counted from 1); or one that holds what JSON does not allow.
  struct ParseError : Error {
    ParseError(const std::string& what, size_t at, bool is_syntax) : Error(what), byte(at), syntax(is_syntax) {}
    size_t byte;
    bool syntax;
  };

  Json() = default;  ///< null
  Json(std::nullptr_t) {}
  Json(bool v);
  Json(int v) : Json(static_cast<long long>(v)) {}
  Json(unsigned v) : Json(static_cast<unsigned long long>(v)) {}
  Json(long v) : Json(static_cast<long long>(v)) {}
  Json(unsigned long v) : Json(static_cast<unsigned long long>(v)) {}
  Json(long long v);
  Json(unsigned long long v);
  Json(double v);
  Json(const char* text) : Json(std::string(text)) {}
  Json(std::string_view text) : Json(std::string(text)) {}
  Json(std::string text);
  Json(const std::vector<std::string>& list);
  Json(const std::vector<double>& list);
  Json(const std::map<std::string, double>& members);
  Json(List list);
  /// Pairs of a text and a value are the members of an object, anything else is a list.
  Json(std::initializer_list<Json> values);
  Json(const Json& other);
  Json(Json&& other) noexcept;
  Json& operator=(Json other) noexcept;
  ~Json();
  static Json array(std::initializer_list<Json> values = {});
  static Json object();

  /// Throws ParseError. No deeper than 200 values within values.
  static Json parse(std::string_view text);
  /// The same without an exception: what is no JSON is_discarded().
  static Json read(std::string_view text);
  /// `indent`: blanks a level; −1: one line. What is no UTF-8 is replaced; a number that is none is null.
  std::string dump(int indent = -1) const;

  bool is_null() const { return kind_ == Kind::null; }
  bool is_discarded() const { return kind_ == Kind::discarded; }
  bool is_boolean() const { return kind_ == Kind::boolean; }
  bool is_number() const { return kind_ == Kind::real || is_number_integer(); }
  bool is_number_integer() const { return kind_ == Kind::whole || kind_ == Kind::natural; }
  bool is_number_unsigned() const { return kind_ == Kind::natural; }
  bool is_string() const { return kind_ == Kind::text; }
  bool is_array() const { return kind_ == Kind::list; }
  bool is_object() const { return kind_ == Kind::object; }
  bool is_structured() const { return is_array() || is_object(); }

  /// Values of a list, members of an object; 0 of null, 1 of anything else.
  size_t size() const;
  bool empty() const { return size() == 0; }
  bool contains(std::string_view key) const { return find(key) != nullptr; }
  /// Null: no such member, or no object.
  const Json* find(std::string_view key) const;
  const Json& at(std::string_view key) const;
  const Json& operator[](std::string_view key) const { return at(key); }
  const Json& operator[](const char* key) const { return at(key); }
  const Json& operator[](const std::string& key) const { return at(key); }
  const Json& operator[](size_t i) const;
  const Json& operator[](int i) const { return (*this)[size_t(i)]; }
  /// Makes the member where there is none, and an object of null.
  Json& operator[](std::string_view key);
  Json& operator[](const char* key) { return (*this)[std::string_view(key)]; }
  Json& operator[](const std::string& key) { return (*this)[std::string_view(key)]; }
  Json& operator[](size_t i);
  Json& operator[](int i) { return (*this)[size_t(i)]; }
  const Json& front() const { return (*this)[size_t(0)]; }
  const Json& back() const { return (*this)[size() - 1]; }
  Json& back() { return (*this)[size() - 1]; }

  /// std::string, double, bool, int, long, long long, unsigned long (and size_t), std::vector<double> and
  /// std::vector<std::string>. Throws Error.
  template <class T>
  T get() const;
  /// The member's value, or the other where there is no such member. Throws Error where it is of another kind.
  template <class T>
  T value(std::string_view key, const T& otherwise) const {
    const Json* v = find(key);
    return v == nullptr ? otherwise : v->get<T>();
  }
  std::string value(std::string_view key, const char* otherwise) const { return value(key, std::string(otherwise)); }
  Json value(std::string_view key, const Json& otherwise) const {
    const Json* v = find(key);
    return v == nullptr ? otherwise : *v;
  }

  /// A list of null, which becomes one.
  void push_back(Json value);
  void erase(std::string_view key);
  /// Members of another object over those of this one; `merge_patch` (RFC 7396) goes inside, and null takes away.
  void update(const Json& other);
  void merge_patch(const Json& other);

  /// Members in the order of their keys, here and inside: a reader for whom the order of a document must mean nothing.
  void sort_keys();

  /// Values of a list; none of anything else.
  const Json* begin() const;
  const Json* end() const;
  Json* begin();
  Json* end();
  /// Members of an object in their order; none of anything else.
  const Members& items() const;

  friend bool operator==(const Json& a, const Json& b);
  friend bool operator==(const Json& a, const char* text);

 private:
  enum class Kind : uint8_t { null, discarded, boolean, whole, natural, real, text, list, object };
  friend class JsonReader;
  [[noreturn]] void wrong(const char* wanted) const;
  List& list();
  Members& members();
  void take(Json& other) noexcept;

  Kind kind_ = Kind::null;
  union {
    bool boolean;
    long long whole;
    unsigned long long natural;
    double real;
    std::string* text;
    List* list;
    Members* members;
  } is_ = {.natural = 0};
};

struct Json::Member {
  std::string first;
  Json second;
};

template <>
std::string Json::get<std::string>() const;
template <>
double Json::get<double>() const;
template <>
bool Json::get<bool>() const;
template <>
int Json::get<int>() const;
template <>
long Json::get<long>() const;
template <>
long long Json::get<long long>() const;
template <>
unsigned long Json::get<unsigned long>() const;
template <>
std::vector<double> Json::get<std::vector<double>>() const;
template <>
std::vector<std::string> Json::get<std::vector<std::string>>() const;

}  // namespace fortitor
