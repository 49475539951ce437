// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/table_orders.h"

#include "core/base/number_text.h"
#include "core/exchange/written_values.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace syntonon {
namespace {

using Rows = std::vector<ValueRow>;
using Orders = std::vector<std::vector<Term>>;
using Columns = std::vector<std::optional<Term>>;

constexpr double least_word_of_one = 256; // that a0 is in whole words

// Columns by the table's titles; nothing where they name no order.
std::optional<Columns> columns_of(const std::vector<std::string>& titles) {
    Columns columns;
    for (const std::string& title : titles) {
        const auto term = order_from_text(lower_case(title));
        columns.push_back(term && term->size() == 1 ? std::optional((*term)[0]) : std::nullopt);
    }
    const auto terms =
        std::ranges::count_if(columns, [](const auto& column) { return column.has_value(); });
    return terms >= 5 ? std::optional(columns) : std::nullopt;
}

Orders keep_columns(Rows& rows, const Columns& columns) {
    std::vector<Term> order;
    for (const auto& column : columns) {
        if (column) {
            order.push_back(*column);
        }
    }
    for (ValueRow& row : rows) {
        std::vector<double> values;
        for (std::size_t i = 0; i < columns.size(); ++i) {
            if (columns[i]) {
                values.push_back(row.values[i]);
            }
        }
        row.values = std::move(values);
    }
    return {order};
}

Expected<Orders> fit_to(Rows& rows, const std::vector<Term>& order) {
    if (have_width(rows, order.size() + 1) && (have_index(rows) || rows.size() == 1)) {
        drop_index(rows);
    }
    if (!rows.empty() && !have_width(rows, order.size())) {
        auto made = in_rows_of(order.size(), rows);
        if (!made) {
            return tl::unexpected(made.error());
        }
        rows = std::move(*made);
    }
    return Orders{order};
}

std::vector<double> all_values(const Rows& rows) {
    std::vector<double> values;
    for (const ValueRow& row : rows) {
        values.insert(values.end(), row.values.begin(), row.values.end());
    }
    return values;
}

bool are_same_backwards(const std::vector<double>& values) {
    return std::equal(values.begin(), values.end(), values.rbegin());
}

// Of rows of six the fourth: 1, or what 1 is in words.
bool have_same_a0(const Rows& rows) {
    const double a0 = rows[0].values[3];
    const bool is_power = a0 > 0 && std::exp2(std::round(std::log2(a0))) == a0;
    return (a0 == 1 || (is_power && a0 >= least_word_of_one))
           && std::ranges::all_of(rows, [&](const ValueRow& row) { return row.values[3] == a0; });
}

// Many numbers in one row or column, as sections; false where they are none.
bool part_in_sections(Rows& rows, bool is_asked) {
    const std::vector<double> values = all_values(rows);
    const bool is_symmetric = are_same_backwards(values);
    if (values.size() % 6 == 0 && !(is_symmetric && !is_asked)) {
        auto of_six = in_rows_of(6, rows);
        if (of_six && (have_same_a0(*of_six) || (is_asked && values.size() % 5 != 0))) {
            rows = std::move(*of_six);
            return true;
        }
    }
    const bool is_one = rows.size() == 1 && values.size() == 5 && !is_symmetric;
    if (values.size() % 5 != 0 || !(is_asked || is_one)) {
        return false;
    }
    rows = *in_rows_of(5, rows);
    return true;
}

} // namespace

Expected<Orders> orders_of(Rows& rows, const WrittenNumbers& text,
                           const CoefficientReading& reading, std::vector<std::string>& notes) {
    if (reading.order) {
        return fit_to(rows, *reading.order);
    }
    if (const auto columns = columns_of(text.titles);
        columns && have_width(rows, columns->size())) {
        return keep_columns(rows, *columns);
    }
    if (const std::string said = said_or_empty(text, "order"); !said.empty()) {
        const auto order = order_from_text(said);
        return order ? fit_to(rows, *order) : tl::unexpected(order.error());
    }
    if ((have_width(rows, 6) || have_width(rows, 7)) && have_index(rows)) {
        drop_index(rows);
        notes.emplace_back("The first column counts the sections.");
    }
    const bool is_flat = rows.size() == 1 || have_width(rows, 1);
    if (is_flat && !part_in_sections(rows, reading.as == CoefficientsAs::sections)) {
        return Orders();
    }
    if (are_same_backwards(all_values(rows)) && reading.as != CoefficientsAs::sections) {
        return Orders(); // an FIR of linear phase
    }
    return likely_orders(rows);
}

bool look_like_fractions(const Rows& rows) {
    if (rows.empty() || rows.size() % 2 != 0) {
        return false;
    }
    const std::size_t width = rows[0].values.size();
    if (width < 2 || (rows.size() > 2 && width != 3) || (width == 2 && have_index(rows))) {
        return false;
    }
    for (std::size_t i = 0; i < rows.size(); i += 2) {
        if (rows[i].values.size() < 2 || rows[i + 1].values[0] != 1) {
            return false;
        }
    }
    const bool may_be_sections = have_width(rows, 5) || have_width(rows, 6);
    if (!may_be_sections) {
        return true;
    }
    // Two sections, the second with b0 = 1, hardly ever make a denominator with all poles inside.
    return !(width == 6 && have_same_a0(rows)) && pole_radius({{}, rows[1].values}) < 1;
}

} // namespace syntonon
