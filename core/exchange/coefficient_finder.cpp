// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/coefficient_finder.h"

#include "core/base/number_text.h"
#include "core/exchange/feedback_choice.h"
#include "core/exchange/named_terms.h"
#include "core/exchange/section_table.h"
#include "core/exchange/table_orders.h"
#include "core/exchange/written_values.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <iterator>
#include <tuple>
#include <utility>

namespace syntonon {
namespace {

using Rows = std::vector<ValueRow>;
using Fractions = std::vector<Coefficients>;
using Orders = std::vector<std::vector<Term>>;

bool is_own_head(const WrittenNumbers& text) {
    return text.said.contains("order") && text.said.contains("feedback");
}

// Rows by what they are.
struct Sorted {
    std::vector<WrittenRow> terms, b, a, taps, table;
    std::optional<double> rate_hz;
};

// One number a line below a heading is one row.
void join_single(std::vector<WrittenRow>& rows) {
    const bool are_single =
        std::ranges::all_of(rows, [](const WrittenRow& row) { return row.cells.size() == 1; });
    if (rows.size() < 2 || !are_single) {
        return;
    }
    for (std::size_t i = 1; i < rows.size(); ++i) {
        rows[0].cells.push_back(rows[i].cells[0]);
    }
    rows.resize(1);
}

Sorted sorted(const WrittenNumbers& text) {
    Sorted rows;
    for (const WrittenRow& row : text.rows) {
        if (row.name == "rate") {
            rows.rate_hz =
                row.cells.size() == 1 ? number_from_text(row.cells[0].text) : rows.rate_hz;
            continue;
        }
        (row.name == "b"      ? rows.b
         : row.name == "a"    ? rows.a
         : row.name == "taps" ? rows.taps
         : row.name.empty()   ? rows.table
                              : rows.terms)
            .push_back(row);
    }
    join_single(rows.b);
    join_single(rows.a);
    if (const auto said = text.said.find("sample_rate_hz"); said != text.said.end()) {
        rows.rate_hz = number_from_text(said->second);
    }
    if (rows.rate_hz && !(*rows.rate_hz > 0 && std::isfinite(*rows.rate_hz))) {
        rows.rate_hz.reset();
    }
    return rows;
}

// Of one array over several lines of 5 to 7 numbers each, the lines.
std::vector<WrittenRow> by_lines(const std::vector<WrittenRow>& rows) {
    if (rows.size() != 1) {
        return rows;
    }
    std::vector<WrittenRow> lines;
    for (const WrittenNumber& number : rows[0].cells) {
        if (lines.empty() || lines.back().cells.back().line != number.line) {
            lines.push_back({rows[0].name, {}, rows[0].words});
        }
        lines.back().cells.push_back(number);
    }
    const std::size_t width = lines[0].cells.size();
    const bool are_rows =
        width >= 5 && width <= 7 && std::ranges::all_of(lines, [&](const WrittenRow& line) {
            return line.cells.size() == width;
        });
    return are_rows ? lines : rows;
}

template <class Parts, class Make>
Expected<Fractions> each(const Parts& parts, Make make) {
    Fractions fractions;
    for (const auto& part : parts) {
        auto made = make(part);
        if (!made) {
            return tl::unexpected(made.error());
        }
        fractions.push_back(std::move(*made));
    }
    return fractions;
}

Normalisation normalisation_of(const WrittenNumbers& text, const CoefficientReading& reading) {
    return reading.normalisation.value_or(
        normalisation_from_key(said_or_empty(text, "normalisation"))
            .value_or(Normalisation::a0_one));
}

// Several steps share what they know and what they find.
class Finder {
public:
    Finder(const WrittenNumbers& text, const CoefficientReading& reading)
        : text_(text), reading_(reading), rows_(sorted(text)), values_(text, reading) {
        said_sign_ = reading.feedback ? reading.feedback
                                      : feedback_sign_from_key(said_or_empty(text, "feedback"));
        found_.convention.normalisation = normalisation_of(text, reading);
        found_.sample_rate_hz = rows_.rate_hz;
    }

    Expected<FoundCoefficients> find() {
        if (auto ok = check_structure().and_then([&] { return take(); }); !ok) {
            return tl::unexpected(ok.error());
        }
        for (const std::string& name : text_.left_out) {
            found_.notes.push_back(fmt::format("“{}” was left out.", name));
        }
        return std::move(found_);
    }

private:
    Expected<void> check_structure() const {
        const std::string structure = said_or_empty(text_, "structure");
        return structure.empty() || structure.starts_with("direct_form")
                       || structure.starts_with("transposed")
                   ? Expected<void>()
                   : refuse(
                       "structure",
                       fmt::format("the numbers are those of “{}”, not of direct forms", structure),
                       "deliver the study in a direct form");
    }

    Expected<void> take() {
        if (reading_.as == CoefficientsAs::taps) {
            return take_taps(all_rows());
        }
        const bool has_recursion = !rows_.terms.empty() || !rows_.a.empty() || !rows_.table.empty();
        if (!has_recursion && !rows_.b.empty()) {
            return take_taps(rows_.b);
        }
        Expected<void> ok;
        if (rows_.terms.size() >= 2) {
            ok = take_terms();
            say_unnamed_left_out();
        } else if (!rows_.a.empty()) {
            ok = take_pairs();
            say_unnamed_left_out();
        } else if (!rows_.table.empty() || (is_own_head(text_) && rows_.taps.empty())) {
            ok = take_table();
        } else if (rows_.taps.empty()) {
            return refuse("", "the text holds a gain alone", "choose a file of coefficients");
        }
        return ok.and_then([&] { return take_gain(); })
            .and_then([&] { return rows_.taps.empty() ? Expected<void>() : take_taps(rows_.taps); })
            .and_then([&] { return check_head(); });
    }

    void say_unnamed_left_out() {
        if (!rows_.table.empty() && !rows_.table[0].cells.empty()) {
            found_.notes.push_back(
                fmt::format("Numbers without a name were left out, from line {} on.",
                            rows_.table[0].cells[0].line));
        }
    }

    // One that stands beside a table or rows is that of all of it.
    Expected<void> take_gain() {
        if (rows_.terms.size() != 1 || found_.fractions.empty()) {
            return {};
        }
        const auto gain = values_.of(rows_.terms, false);
        if (!gain) {
            return tl::unexpected(gain.error());
        }
        const ValueRow& row = gain->front();
        if (row.name != "gain" || row.values.size() != 1) {
            return refuse(fmt::format("line {}", row.line),
                          fmt::format("“{}” stands beside numbers without a name", row.name),
                          "give all of them names, or none");
        }
        for (double& b : found_.fractions[0].numerator) {
            b *= row.values[0];
        }
        found_.notes.push_back(fmt::format("All is multiplied by the gain of {}.", row.values[0]));
        return {};
    }

    std::vector<WrittenRow> all_rows() const {
        std::vector<WrittenRow> rows;
        std::ranges::copy_if(text_.rows, std::back_inserter(rows),
                             [](const WrittenRow& row) { return row.name != "rate"; });
        return rows;
    }

    Expected<void> take_taps(const std::vector<WrittenRow>& rows) {
        auto taps = values_.of(rows, true);
        if (!taps) {
            return tl::unexpected(taps.error());
        }
        if (auto ok = values_.check_scale(false); !ok) {
            if (!ok.error().place.empty()) {
                return ok; // words
            }
            found_.notes.emplace_back(
                "The taps are whole numbers: say their word if they are one.");
        }
        if (have_width(*taps, 2) && have_index(*taps)) {
            drop_index(*taps);
        }
        for (const ValueRow& row : *taps) {
            found_.taps.insert(found_.taps.end(), row.values.begin(), row.values.end());
        }
        found_.words = values_.words();
        if (found_.fractions.empty()) {
            found_.as = CoefficientsAs::taps;
        }
        return {};
    }

    Expected<void> take_terms() {
        auto terms = values_.of(rows_.terms, false);
        if (!terms) {
            return tl::unexpected(terms.error());
        }
        const std::vector<NamedTerms> groups = grouped(*terms);
        const bool have_a0 =
            std::ranges::all_of(groups, [](const NamedTerms& group) { return has(group, "a0"); });
        if (auto ok = values_.check_scale(have_a0); !ok) {
            return ok;
        }
        const Normalisation normalisation = found_.convention.normalisation;
        auto ok = take_ways({{[&](FeedbackSign sign) {
            return each(groups, [&](const NamedTerms& group) {
                return fraction_of(group, sign, normalisation);
            });
        }}});
        found_.as = std::ranges::all_of(found_.fractions, is_section) ? CoefficientsAs::sections
                                                                      : CoefficientsAs::fraction;
        return ok;
    }

    static bool is_section(const Coefficients& fraction) {
        return fraction.numerator.size() <= 3 && fraction.denominator.size() <= 3;
    }

    Expected<void> take_pairs() {
        auto b = values_.of(rows_.b, false), a = values_.of(rows_.a, false);
        if (!b || !a) {
            return tl::unexpected(!b ? b.error() : a.error());
        }
        if (b->empty()) {
            b->push_back({"b", {1}, 0});
        }
        return take_fractions(*b, *a);
    }

    Expected<void> take_fractions(const Rows& b, Rows a) {
        if (a.size() != b.size()) {
            return refuse(fmt::format("line {}", a.back().line),
                          fmt::format("{} rows of b stand against {} of a", b.size(), a.size()),
                          "give a row of each for every fraction");
        }
        bool is_short = true;
        for (std::size_t i = 0; i < a.size(); ++i) {
            is_short =
                is_short && a[i].values.size() + 1 == b[i].values.size() && a[i].values[0] != 1;
        }
        for (ValueRow& row : a) {
            if (is_short) {
                row.values.insert(row.values.begin(), 1);
            }
            if (row.values[0] == 0) {
                return refuse(fmt::format("line {}", row.line),
                              "a0 is 0: y[n] itself would not be there",
                              "leave zeros before it out");
            }
        }
        if (is_short) {
            found_.notes.emplace_back("a0 = 1 was put before the rows of a, which are shorter.");
        }
        if (auto ok = values_.check_scale(!is_short); !ok) {
            return ok;
        }
        found_.as = CoefficientsAs::fraction;
        return take_ways({{[&](FeedbackSign sign) -> Expected<Fractions> {
            Fractions fractions;
            for (std::size_t i = 0; i < a.size(); ++i) {
                Coefficients made{b[i].values, a[i].values};
                fractions.push_back(sign == FeedbackSign::added ? with_other_sign(std::move(made))
                                                                : std::move(made));
            }
            return fractions;
        }}});
    }

    Expected<void> take_ways(const std::vector<WayToRead>& ways) {
        auto ok = choose(ways, said_sign_, found_);
        found_.words = values_.words();
        return ok;
    }

    Expected<void> take_table() {
        auto rows = values_.of(by_lines(rows_.table), false);
        if (!rows) {
            return tl::unexpected(rows.error());
        }
        if (reading_.as != CoefficientsAs::sections && !reading_.order
            && (reading_.as == CoefficientsAs::fraction || look_like_fractions(*rows))) {
            return take_rows_as_fractions(*rows);
        }
        auto orders = orders_of(*rows, text_, reading_, found_.notes);
        if (!orders) {
            return tl::unexpected(orders.error());
        }
        if (orders->empty()) {
            if (rows->empty()) {
                return {};
            }
            if (reading_.as == CoefficientsAs::sections) {
                return refuse(
                    fmt::format("line {}", rows->front().line),
                    fmt::format("{} numbers are no sections", rows->front().values.size()),
                    "say which order a section's numbers have");
            }
            found_.notes.emplace_back("Neither sections nor rows of b and a: taken as taps.");
            return take_taps(rows_.table);
        }
        return take_sections(*rows, *orders);
    }

    Expected<void> take_rows_as_fractions(const Rows& rows) {
        Rows b, a;
        if (rows.size() == 1 && rows[0].values.size() % 2 == 0) {
            const auto half =
                rows[0].values.begin() + static_cast<std::ptrdiff_t>(rows[0].values.size() / 2);
            b.push_back({"b", {rows[0].values.begin(), half}, rows[0].line});
            a.push_back({"a", {half, rows[0].values.end()}, rows[0].line});
        } else if (rows.size() % 2 == 0 && !rows.empty()) {
            for (std::size_t i = 0; i < rows.size(); ++i) {
                (i % 2 == 0 ? b : a).push_back(rows[i]);
            }
        } else {
            return refuse("", "rows of b and of a do not come in pairs",
                          "give a row of each, or take it as sections");
        }
        found_.notes.emplace_back("Rows are taken as b and a by turns.");
        return take_fractions(b, a);
    }

    Expected<void> take_sections(const Rows& rows, const Orders& orders) {
        const auto has_a0 = [](const std::vector<Term>& order) {
            return std::ranges::find(order, Term::a0) != order.end();
        };
        if (auto ok = values_.check_scale(std::ranges::all_of(orders, has_a0)); !ok) {
            return ok;
        }
        std::vector<WayToRead> ways;
        for (const std::vector<Term>& order : orders) {
            ways.push_back(
                {[&rows, order, this](FeedbackSign sign) { return sections_of(rows, order, sign); },
                 order});
        }
        found_.as = CoefficientsAs::sections;
        return take_ways(ways);
    }

    Expected<Fractions> sections_of(const Rows& rows, const std::vector<Term>& order,
                                    FeedbackSign sign) const {
        const SectionConvention convention{sign, found_.convention.normalisation, order};
        return each(rows, [&](const ValueRow& row) { return section_of(row, convention); });
    }

    // What a head of this program promises.
    Expected<void> check_head() {
        if (!is_own_head(text_)) {
            return {};
        }
        const auto sections = number_from_text(said_or_empty(text_, "sections"));
        if (sections == 0.0 && found_.fractions.size() == 1) {
            found_.fractions.clear(); // the placeholder that C needs
            found_.sign = {};
        }
        const auto taps = number_from_text(said_or_empty(text_, "taps"));
        for (const auto& [what, said, got] :
             {std::tuple{"sections", sections, found_.fractions.size()},
              std::tuple{"taps", taps, found_.taps.size()}}) {
            if (said && *said != static_cast<double>(got)) {
                return refuse(what, fmt::format("the head says {}, the file holds {}", *said, got),
                              "the file may have been cut off; export it again");
            }
        }
        const double delay = number_from_text(said_or_empty(text_, "delay_samples")).value_or(0);
        found_.delay_samples = delay > 0 && delay <= 1 << 30 ? static_cast<std::size_t>(delay) : 0;
        return {};
    }

    const WrittenNumbers& text_;
    const CoefficientReading& reading_;
    Sorted rows_;
    WrittenValues values_;
    std::optional<FeedbackSign> said_sign_;
    FoundCoefficients found_;
};

} // namespace

Expected<FoundCoefficients> find_coefficients(const WrittenNumbers& text,
                                              const CoefficientReading& reading) {
    return Finder(text, reading).find();
}

} // namespace syntonon
