#include "core/fatigue/rainflow.h"

#include <cmath>

namespace fortitor::fatigue {
namespace {

void count_four(const std::vector<double>& points, std::vector<double>& stack, std::vector<Cycle>& out) {
  stack.clear();
  for (double v : points) {
    stack.push_back(v);
    while (stack.size() >= 4) {
      const double *p = stack.data() + stack.size() - 4, inner = std::abs(p[2] - p[1]);
      if (inner > std::abs(p[1] - p[0]) || inner > std::abs(p[3] - p[2])) break;
      out.push_back({p[1], p[2], 1});
      stack[stack.size() - 3] = stack.back();
      stack.resize(stack.size() - 2);
    }
  }
}

}  // namespace

std::vector<double> alternating(const std::vector<double>& points) {
  std::vector<double> out;
  out.reserve(points.size());
  for (double v : points) {
    if (!out.empty() && v == out.back()) continue;
    if (out.size() >= 2 && (out.back() > out[out.size() - 2]) == (v > out.back()))
      out.back() = v;
    else
      out.push_back(v);
  }
  return out;
}

std::vector<Cycle> rainflow_four_point(const std::vector<double>& points, std::vector<double>* residue) {
  std::vector<Cycle> out;
  out.reserve(points.size() / 2);
  std::vector<double> stack;
  count_four(alternating(points), stack, out);
  if (residue != nullptr) *residue = stack;
  std::vector<double> twice = stack;
  twice.insert(twice.end(), stack.begin(), stack.end());
  count_four(alternating(twice), stack, out);
  return out;
}

std::vector<Cycle> rainflow_three_point(const std::vector<double>& points) {
  std::vector<Cycle> out;
  std::vector<double> stack;
  size_t start = 0;  // of what is left in the stack
  for (double v : alternating(points)) {
    stack.push_back(v);
    while (stack.size() - start >= 3) {
      const size_t n = stack.size();
      const double x = std::abs(stack[n - 1] - stack[n - 2]), y = std::abs(stack[n - 2] - stack[n - 3]);
      if (x < y) break;
      if (n - start == 3) {  // y holds the start: half a cycle
        out.push_back({stack[start], stack[start + 1], 0.5});
        ++start;
      } else {
        out.push_back({stack[n - 3], stack[n - 2], 1});
        stack[n - 3] = stack[n - 1];
        stack.resize(n - 2);
      }
    }
  }
  for (size_t i = start; i + 1 < stack.size(); ++i) out.push_back({stack[i], stack[i + 1], 0.5});
  return out;
}

}  // namespace fortitor::fatigue
