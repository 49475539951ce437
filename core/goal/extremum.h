// The greatest value of a function that was sampled, also between the samples.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <functional>
#include <limits>
#include <vector>

namespace syntonon {

struct Extremum {
    double hz = 0;
    double value = -std::numeric_limits<double>::infinity();
};

using Function = std::function<double(double hz)>;

// `sampled` is f at ascending `hz` (not empty), between which f is smooth with at most one maximum.
// Every maximum that could be the greatest is refined by golden-section search (Kiefer, Proc. AMS
// 4, 1953) until its value stands still; how high an interval could reach is bounded by twice the
// larger step beside it, where a parabola needs an eighth.
Extremum greatest(const Function& f, const std::vector<double>& hz,
                  const std::vector<double>& sampled);

} // namespace syntonon
