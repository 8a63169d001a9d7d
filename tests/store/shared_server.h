// A PostgreSQL server of the tests' own, started as nobody where they run as root, and books on it in place of files.
#pragma once

#include <gtest/gtest.h>

#include <QByteArray>
#include <QCryptographicHash>
#include <QFile>
#include <QProcess>
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <set>
#include <string>

#include "tests/built.h"

namespace fortitor {

/// Whether this run of the tests keeps its books on a server (ctest: Shared.*).
inline bool on_server() {
  return qEnvironmentVariable("FORTITOR_TEST_STORE") == "server";
}

class SharedServer {
 public:
  static SharedServer& one() {
    static SharedServer server;
    return server;
  }
  /// Of a database by that name, as the owner of everything or as another role.
  std::string address(const QString& name, const QString& user = "keeper") const {
    return ("postgresql:///" + name + "?host=" + dir_.path() + "&user=" + user).toStdString();
  }
  QString folder() const { return dir_.path(); }
  /// SQL by the server's owner, in a database.
  static void run(const QString& database, const QStringList& all) {
    const QString name = "by-owner";
    {
      QSqlDatabase db = QSqlDatabase::addDatabase("QPSQL", name);
      db.setHostName(one().folder());
      db.setUserName("keeper");
      db.setDatabaseName(database);
      ASSERT_TRUE(db.open()) << db.lastError().text().toStdString();
      QSqlQuery q(db);
      for (const QString& sql : all)
        EXPECT_TRUE(q.exec(sql)) << sql.toStdString() << ": " << q.lastError().text().toStdString();
      db.close();
    }
    QSqlDatabase::removeDatabase(name);
  }
  /// An empty database.
  static QString fresh() {
    static int n = 0;
    const QString name = "book" + QString::number(++n);
    run("postgres", {"CREATE DATABASE " + name});
    return name;
  }
  static void script(const QStringList& arguments) {
    QProcess p;
    p.setProcessEnvironment(environment());
    p.setStandardErrorFile(QProcess::nullDevice());
    p.setStandardOutputFile(QProcess::nullDevice());  // the server keeps what it inherits
    p.start(FORTITOR_SOURCE_DIR "/scripts/shared-book", arguments);
    p.waitForFinished(60000);
    ASSERT_EQ(p.exitCode(), 0) << arguments.join(' ').toStdString();
  }
  static void start() { script({"--trial", one().folder(), "--", "-c fsync=off -c max_connections=200"}); }
  static void stop() { script({"--stop", one().folder()}); }
#ifdef FULL_DISK
  /// No file of the server grows any more; what that made of the server is put right when there is room again.
  static void fill_disk() {
    QFile sign(full_sign());
    ASSERT_TRUE(sign.open(QIODevice::WriteOnly));
    sign.setPermissions(QFile::Permissions(0x4444));
  }
  static void make_room() {
    QFile::remove(full_sign());
    QProcess p;
    p.start(FORTITOR_SOURCE_DIR "/scripts/shared-book", {"--kill", one().folder()});  // it may be down already
    p.waitForFinished(60000);
    start();
  }
#endif
  SharedServer(const SharedServer&) = delete;
  SharedServer& operator=(const SharedServer&) = delete;

 private:
  static QString full_sign() {
    return one_folder() + "/no-room";
  }
  // Of the one whose constructor may still be running.
  static QString& one_folder() {
    static QString folder;
    return folder;
  }
  static QProcessEnvironment environment() {
    auto out = QProcessEnvironment::systemEnvironment();
#ifdef FULL_DISK
    // Beside the server's data: the checkout may lie where nobody may look.
    const QString library = one_folder() + "/full_disk.so";
    if (!QFile::exists(library)) {
      QFile::copy(built("libfull_disk.so"), library);
      QFile::setPermissions(library, QFile::Permissions(0x7555));
    }
    out.insert("LD_PRELOAD", library);
    out.insert("FULL_DISK_WHEN", full_sign());
#endif
    return out;
  }
  SharedServer() {
    one_folder() = dir_.path();
    script({"--trial", dir_.path(), "--", "-c fsync=off -c max_connections=200"});
  }
  ~SharedServer() {
    QProcess::execute(FORTITOR_SOURCE_DIR "/scripts/shared-book", {"--stop", dir_.path()});
  }
  QTemporaryDir dir_;
};

/// Where the book of a test lies: at that path, or in a database of its own when the tests run on a server.
inline std::string book_at(const std::string& path) {
  if (!on_server()) return path;
  const QString name =
      "t" + QCryptographicHash::hash(QByteArray::fromStdString(path), QCryptographicHash::Md5).toHex().left(20);
  static std::set<QString> made;
  if (made.insert(name).second) SharedServer::run("postgres", {"CREATE DATABASE " + name});
  return SharedServer::one().address(name);
}

}  // namespace fortitor

/// For what only a file can suffer: cut short, written over, copied behind the program's back.
#define ONLY_IN_A_FILE() \
  if (fortitor::on_server()) GTEST_SKIP() << "concerns files"
