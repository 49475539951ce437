// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/section_table.h"

#include "core/math/polynomial_zeros.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

using enum Term;

bool is_constant(const std::vector<ValueRow>& rows, std::size_t column) {
    const double first = rows[0].values[column];
    return first != 0 && std::ranges::all_of(rows, [&](const ValueRow& row) {
               return row.values[column] == first;
           });
}

// Of z^2 + p z + q, without the cancellation of the plain formula.
double radius_of_two(double p, double q) {
    const double half = -p / 2, under = half * half - q;
    if (under < 0) {
        return std::sqrt(q);
    }
    return std::abs(half) + std::sqrt(under);
}

} // namespace

bool have_width(const std::vector<ValueRow>& rows, std::size_t width) {
    return !rows.empty() && std::ranges::all_of(rows, [&](const ValueRow& row) {
        return row.values.size() == width;
    });
}

bool have_index(const std::vector<ValueRow>& rows) {
    if (rows.size() < 2 || rows[0].values.size() < 2
        || (rows[0].values[0] != 0 && rows[0].values[0] != 1)) {
        return false;
    }
    for (std::size_t i = 0; i < rows.size(); ++i) {
        if (rows[i].values.size() < 2
            || rows[i].values[0] != rows[0].values[0] + static_cast<double>(i)) {
            return false;
        }
    }
    return true;
}

void drop_index(std::vector<ValueRow>& rows) {
    for (ValueRow& row : rows) {
        row.values.erase(row.values.begin());
    }
}

Expected<std::vector<ValueRow>> in_rows_of(std::size_t width, const std::vector<ValueRow>& rows) {
    std::vector<ValueRow> made;
    for (const ValueRow& row : rows) {
        for (const double value : row.values) {
            if (made.empty() || made.back().values.size() == width) {
                made.push_back({{}, {}, row.line});
            }
            made.back().values.push_back(value);
        }
    }
    if (made.empty() || made.back().values.size() != width) {
        const std::size_t left = made.empty() ? 0 : made.back().values.size();
        return refuse(fmt::format("line {}", rows.empty() ? 1 : rows.back().line),
                      fmt::format("{} numbers are left where a section has {}", left, width),
                      "say which order a section's numbers have");
    }
    return made;
}

bool has_column_of_ones(const std::vector<ValueRow>& rows, std::size_t column) {
    return is_constant(rows, column) && rows[0].values[column] == 1;
}

std::vector<std::vector<Term>> likely_orders(const std::vector<ValueRow>& rows) {
    if (have_width(rows, 5)) {
        return {{b0, b1, b2, a1, a2}, {a1, a2, b0, b1, b2}, {b2, b1, b0, a2, a1}};
    }
    if (!have_width(rows, 6)) {
        return {};
    }
    struct Likely {
        std::vector<Term> order;
        std::size_t same; // in all rows
    };
    std::vector<Likely> all = {{{b0, b1, b2, a0, a1, a2}, 3},
                               {{a0, a1, a2, b0, b1, b2}, 0},
                               {{gain, b0, b1, b2, a1, a2}, 1}};
    std::ranges::stable_sort(all, {}, [&](const Likely& likely) {
        return has_column_of_ones(rows, likely.same) ? 0 : is_constant(rows, likely.same) ? 1 : 2;
    });
    if (!has_column_of_ones(rows, 1)) { // b0 is 1 beside a gain
        std::erase_if(all, [](const Likely& likely) { return likely.same == 1; });
    }
    std::vector<std::vector<Term>> orders;
    for (Likely& likely : all) {
        orders.push_back(std::move(likely.order));
    }
    return orders;
}

Expected<Coefficients> section_of(const ValueRow& row, const SectionConvention& convention) {
    const bool has_gain = std::ranges::find(convention.order, gain) != convention.order.end();
    double scale = 1;
    Coefficients section{{has_gain ? 1.0 : 0.0, 0, 0},
                         {convention.normalisation == Normalisation::a0_half ? 0.5 : 1, 0, 0}};
    const double sign = convention.feedback == FeedbackSign::added ? -1 : 1;
    for (std::size_t i = 0; i < row.values.size(); ++i) {
        const double value = row.values[i];
        switch (convention.order[i]) {
        case b0:
            section.numerator[0] = value;
            break;
        case b1:
            section.numerator[1] = value;
            break;
        case b2:
            section.numerator[2] = value;
            break;
        case a0:
            section.denominator[0] = value;
            break;
        case a1:
            section.denominator[1] = sign * value;
            break;
        case a2:
            section.denominator[2] = sign * value;
            break;
        case gain:
            scale = value;
            break;
        }
    }
    for (double& b : section.numerator) {
        b *= scale;
    }
    if (section.denominator[0] == 0) {
        return refuse(fmt::format("line {}", row.line), "a0 is 0: y[n] itself would not be there",
                      "say which order a section's numbers have");
    }
    return section;
}

double pole_radius(const Coefficients& fraction) {
    std::vector<double> a = fraction.denominator;
    while (!a.empty() && a.back() == 0) {
        a.pop_back();
    }
    if (a.size() < 2) {
        return 0;
    }
    if (a.size() == 2) {
        return std::abs(a[1] / a[0]);
    }
    if (a.size() == 3) {
        return radius_of_two(a[1] / a[0], a[2] / a[0]);
    }
    return greatest_zero(a);
}

double pole_radius(std::span<const Coefficients> fractions) {
    double radius = 0;
    for (const Coefficients& fraction : fractions) {
        radius = std::max(radius, pole_radius(fraction));
    }
    return radius;
}

Coefficients with_other_sign(Coefficients fraction) {
    for (std::size_t k = 1; k < fraction.denominator.size(); ++k) {
        fraction.denominator[k] = -fraction.denominator[k];
    }
    return fraction;
}

} // namespace syntonon
