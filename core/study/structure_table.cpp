// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/structure_table.h"

#include "core/goal/prediction.h"
#include "core/goal/verdict_text.h"
#include "core/word/word_facts.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr double as_good_as_designed_db = 0.1;

TableCell cell_of(const TableQuestion& question, const Filter& wished, const WordFormat& format) {
    TableCell cell;
    const auto chain = nearest_words(question.parts, format);
    if (!chain) {
        cell.problem = chain.error();
        return cell;
    }
    const Filter words = filter_of(*chain);
    cell.is_stable = words.is_stable();
    cell.worst_db = level_deviation(words, wished, question.axis.sample_rate_hz).worst_db;
    if (question.goal != nullptr) {
        const Verdict verdict = judge(
            *question.goal,
            Prediction(words, question.measured != nullptr ? &question.measured->reader : nullptr,
                       question.axis));
        const Finding* worst = worst_of(verdict);
        cell.worst = worst != nullptr ? std::optional(*worst) : std::nullopt;
    }
    return cell;
}

// The sum as long as products with these coefficients are.
void fit_accumulator(Arithmetic& how, int fraction_bits_before) {
    how.accumulator.fraction_bits += how.coefficient.fraction_bits - fraction_bits_before;
    const int least = std::max(how.data.fraction_bits, how.state.fraction_bits);
    how.accumulator.fraction_bits =
        std::clamp(how.accumulator.fraction_bits, least,
                   std::max(least, most_accumulator_bits - how.accumulator.whole_bits));
}

} // namespace

bool TableCell::is_met() const {
    if (problem || !is_stable) {
        return false;
    }
    return worst ? worst->outcome == Outcome::met : worst_db <= as_good_as_designed_db;
}

std::vector<Arithmetic> words_to_compare(const Arithmetic& how) {
    std::vector<Arithmetic> all;
    if (!how.is_fixed()) {
        for (const Word& word : {Word::float32(), Word::float64()}) {
            Arithmetic other = how;
            other.coefficient = word;
            all.push_back(other);
        }
        return all;
    }
    std::vector<int> bits{16, 24, 32, how.coefficient.bits()};
    std::ranges::sort(bits);
    bits.erase(std::unique(bits.begin(), bits.end()), bits.end());
    for (const int each : bits) {
        Arithmetic other = how;
        other.coefficient.fraction_bits = each - how.coefficient.whole_bits;
        fit_accumulator(other, how.coefficient.fraction_bits);
        if (check(other)) {
            all.push_back(other);
        }
    }
    return all;
}

std::string coefficient_title(const Arithmetic& how) {
    return how.shift == 0 ? text_of(how.coefficient)
                          : fmt::format("{} ×{:g}", text_of(how.coefficient),
                                        std::exp2(static_cast<double>(how.shift)));
}

Expected<StructureTable> structure_table(const TableQuestion& question, const Watch& watch) {
    StructureTable table;
    table.columns = words_to_compare(question.processor.section_words);
    for (std::size_t i = 0; i < table.columns.size(); ++i) {
        if (table.columns[i].coefficient == question.processor.section_words.coefficient) {
            table.own_column = i;
        }
    }
    const Filter wished = filter_of(question.parts);
    for (const StructureCycles& structure : question.processor.structures) {
        table.rows.push_back(structure.structure);
        std::vector<TableCell> row;
        for (const Arithmetic& words : table.columns) {
            if (watch.is_stopped()) {
                return refuse("", "the table was stopped", "ask again");
            }
            WordFormat format = question.processor.format_for(structure.structure);
            format.sections = words;
            row.push_back(cell_of(question, wished, format));
        }
        table.cells.push_back(std::move(row));
        watch.report(static_cast<double>(table.cells.size())
                     / static_cast<double>(question.processor.structures.size()));
    }
    return table;
}

} // namespace syntonon
