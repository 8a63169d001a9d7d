#include <cstdio>
#include <cstring>
#include "core/record/json.h"
#include "core/evaluation/evaluation_json.h"
#include "core/methods/method.h"
using namespace fortitor;
int main(int argc, char** argv) {
  if (argc < 2) return 2;
  auto r = load_record(argv[argc - 1]);
  if (!r) { std::fprintf(stderr, "%s\n", r.error().message.c_str()); return 2; }
  std::puts(evaluation_to_json(methods::evaluate(*r), r->fields).c_str());
}
