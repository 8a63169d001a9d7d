#include "store/shared.h"

#include <QSqlQuery>
#include <map>

#include "store/engine.h"
#include "store/keeper_door.h"
#include "store/schema.h"
#include "store/sql.h"

namespace fortitor {

bool is_shared_address(const std::string& path) {
  return engine::is_address(path);
}

Outcome<std::vector<std::string>> set_up_shared(const std::string& address, const std::string& who,
                                                const Clock& clock) {
  if (!engine::is_address(address))
    return InputError{address + ": this is no address of a server. It looks like postgresql://server/name.", {}};
  auto book = Book::open(address, who, clock);
  if (!book) return book.error();
  if ((*book)->read_only()) return InputError{address + ": " + (*book)->notices().front(), {}};
  if (const auto roles = schema::server::make_roles(KeeperDoor::of(**book)); !roles) return roles.error();
  const auto target = engine::target_of(address);
  const std::string name = str(target->name);
  return std::vector<std::string>{
      "The book lies at " + address + ".",
      "Its roles: " + name + "_reads, " + name + "_tests, " + name + "_signs, " + name + "_keeps.",
      "A person gets them with GRANT, such as: GRANT " + name + "_tests TO somebody;"};
}

Outcome<SharedState> shared_state(const Book& book) {
  if (!book.shared()) return InputError{"The book lies in a file of its own.", {}};
  QSqlQuery q(KeeperDoor::of(book));
  SharedState out;
  const auto column = [&](int i) { return str(q.value(i).toString()); };
  if (!q.exec(
          "SELECT replace(application_name, 'fortitor: ', ''), usename, COALESCE(host(client_addr), ''), "
          "COALESCE(to_char(backend_start AT TIME ZONE 'UTC', 'YYYY-MM-DD\"T\"HH24:MI:SS\"Z\"'), '') FROM "
          "pg_stat_activity WHERE datname = current_database() AND application_name LIKE 'fortitor%' ORDER BY 1, 4"))
    return sql_error(q, "Who is connected could not be read");
  while (q.next()) out.connected.push_back({column(0), column(1), column(2), column(3)});
  if (q.exec(
          "SELECT pg_database_size(current_database()), split_part(version(), ' ', 1) || ' ' || split_part(version(), "
          "' ', 2)") &&
      q.next()) {
    out.bytes = q.value(0).toLongLong();
    out.server = column(1);
  }
  std::map<std::string, std::string> roles;
  if (q.exec(
          "SELECT m.rolname, substr(r.rolname, length(current_database()) + 2) FROM pg_auth_members a JOIN pg_roles r "
          "ON r.oid = a.roleid JOIN pg_roles m ON m.oid = a.member WHERE r.rolname IN (current_database() || '_reads', "
          "current_database() || '_tests', current_database() || '_signs', current_database() || '_keeps') ORDER BY 1, "
          "2"))
    while (q.next()) {
      std::string& all = roles[column(0)];
      all += (all.empty() ? "" : ", ") + column(1);
    }
  out.roles.assign(roles.begin(), roles.end());
  return out;
}

}  // namespace fortitor
