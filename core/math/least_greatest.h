// Linear equations of which there are too many, met so that the greatest error is least.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <span>
#include <vector>

namespace syntonon {

// rows[i * unknowns + j]: what unknown j adds to value i.
struct Equations {
    std::size_t unknowns = 0;
    std::vector<double> rows = {}, values = {};

    void add(std::span<const double> row, double value) {
        rows.insert(rows.end(), row.begin(), row.end());
        values.push_back(value);
    }
};

struct LeastGreatest {
    std::vector<double> unknowns;
    double greatest = 0; // error that is left
    double bound = 0;    // no others leave less; the same but for rounding, unless stopped before
    int exchanges = 0;
};

// By exchange of one equation at a time among the unknowns + 1 that are levelled (E. Stiefel,
// "Ueber diskrete und lineare Tschebyscheff-Approximationen", Numerische Mathematik 1, 1959). An
// unknown that the others can stand for is 0. Without equations all are 0.
LeastGreatest least_greatest_error(const Equations& equations);

} // namespace syntonon
