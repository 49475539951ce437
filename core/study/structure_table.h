// Which structure, in which words, does what is asked.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/watch.h"
#include "core/filter/in_sections.h"
#include "core/goal/finding.h"
#include "core/study/analysis.h"
#include "core/word/processor.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// All that the answer depends on.
struct TableQuestion {
    SeriesParts parts;
    Processor processor;
    std::shared_ptr<const ResolvedGoal> goal; // null: no verdict
    SharedMeasured measured;                  // may be null
    Axis axis;
};

struct TableCell {
    std::optional<Problem> problem = {}; // why these words cannot hold the chain; else what follows
    double worst_db = 0;                 // greatest deviation of level
    bool is_stable = true;
    // The verdict of the nearest words: its worst finding, the one that is missed by most, else the
    // one with the least room in dB. Absent without a goal.
    std::optional<Finding> worst = {};

    // Without a goal: stable, and within a tenth of a dB.
    bool is_met() const;
};

struct StructureTable {
    std::vector<Structure> rows;     // those that the processor has
    std::vector<Arithmetic> columns; // its sections' words, and such with fewer and more bits
    std::size_t own_column = 0;
    std::vector<std::vector<TableCell>> cells; // by row, then by column
};
// Refused when the watch is stopped.
Expected<StructureTable> structure_table(const TableQuestion& question, const Watch& watch = {});

// The same words with 16, 24 and 32 bits for coefficients, those that they have among them; of
// floats single and double precision.
std::vector<Arithmetic> words_to_compare(const Arithmetic& how);
// "Q1.15", "Q1.15 ×2".
std::string coefficient_title(const Arithmetic& how);

} // namespace syntonon
