// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/named_terms.h"

#include "core/base/number_text.h"

#include <algorithm>

namespace syntonon {
namespace {

void put_at(std::vector<double>& row, std::string_view name, double value) {
    const auto k = static_cast<std::size_t>(number_from_text(name.substr(1)).value_or(0));
    row.resize(std::max(row.size(), k + 1));
    row[k] = value;
}

} // namespace

bool has(const NamedTerms& terms, std::string_view name) {
    return std::ranges::any_of(terms, [&](const auto& term) { return term.first == name; });
}

std::vector<NamedTerms> grouped(const std::vector<ValueRow>& terms) {
    std::vector<NamedTerms> groups;
    const bool are_columns =
        std::ranges::any_of(terms, [](const ValueRow& row) { return row.values.size() > 1; });
    for (const ValueRow& row : terms) {
        if (are_columns) {
            groups.resize(std::max(groups.size(), row.values.size()));
            for (std::size_t i = 0; i < row.values.size(); ++i) {
                groups[i].emplace_back(row.name, row.values[i]);
            }
            continue;
        }
        if (groups.empty() || has(groups.back(), row.name)) {
            groups.emplace_back();
        }
        groups.back().emplace_back(row.name, row.values[0]);
    }
    return groups;
}

Expected<Coefficients> fraction_of(const NamedTerms& terms, FeedbackSign sign,
                                   Normalisation normalisation) {
    Coefficients made{{}, {normalisation == Normalisation::a0_half ? 0.5 : 1}};
    double gain = 1;
    for (const auto& [name, value] : terms) {
        if (name == "gain") {
            gain = value;
        } else {
            put_at(name[0] == 'b' ? made.numerator : made.denominator, name, value);
        }
    }
    if (!has(terms, "b0")) {
        put_at(made.numerator, "b0", made.numerator.empty() || has(terms, "gain") ? 1 : 0);
    }
    for (double& b : made.numerator) {
        b *= gain;
    }
    if (made.denominator[0] == 0) {
        return refuse("a0", "is 0: y[n] itself would not be there", "give another");
    }
    return sign == FeedbackSign::added ? with_other_sign(std::move(made)) : made;
}

} // namespace syntonon
