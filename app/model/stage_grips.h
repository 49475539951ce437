// Handles on the magnitude lane for the selected stage, whatever its kind.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/stage.h"

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

struct ParametricSpec;
struct ClassicalSpec;
struct CorrectionSpec;
struct CrossoverSpec;
struct LadderSpec;
struct StateVariableSpec;

// One handle. Of a stage's handles the first is the main one: a square on a stem with the stage's
// name beside it, moved by the arrow keys. The others are bars that keep apart from it.
struct Grip {
    std::string_view key; // the kind's own name for it; not shown
    double frequency_hz = 0, level_db = 0;
    bool moves_level = false;     // dragging it up and down does something
    const char* step = "Move %1"; // in the history; %1: the stage
    std::string name = {};        // of the part that it holds; empty: the stage's
    // A part that can be taken in the hand instead: a square of its own.
    std::optional<std::size_t> other = {};
};

// A kind that is held on the lane adds these functions here and writes them beside its trim panel;
// the others have no handles. Results keep within what the kind can be designed with, however far a
// handle is dragged.
std::vector<Grip> grips_of(const ParametricSpec& spec, const Axis& axis);
void move_grip(ParametricSpec& spec, std::string_view key, double hz,
               std::optional<double> level_db, const Axis& axis);
void widen(ParametricSpec& spec, double octave_factor, const Axis& axis);

std::vector<Grip> grips_of(const ClassicalSpec& spec, const Axis& axis);
void move_grip(ClassicalSpec& spec, std::string_view key, double hz, std::optional<double> level_db,
               const Axis& axis);
void widen(ClassicalSpec& spec, double octave_factor, const Axis& axis);

std::vector<Grip> grips_of(const CrossoverSpec& spec, const Axis& axis);
void move_grip(CrossoverSpec& spec, std::string_view key, double hz, std::optional<double> level_db,
               const Axis& axis);
void widen(CrossoverSpec& spec, double octave_factor, const Axis& axis);

std::vector<Grip> grips_of(const LadderSpec& spec, const Axis& axis);
void move_grip(LadderSpec& spec, std::string_view key, double hz, std::optional<double> level_db,
               const Axis& axis);
void widen(LadderSpec& spec, double octave_factor, const Axis& axis);

std::vector<Grip> grips_of(const StateVariableSpec& spec, const Axis& axis);
void move_grip(StateVariableSpec& spec, std::string_view key, double hz,
               std::optional<double> level_db, const Axis& axis);
void widen(StateVariableSpec& spec, double octave_factor, const Axis& axis);

// A kind with many parts that are held alike is told which is in the hand; one beyond the last
// means that.
std::vector<Grip> grips_of(const CorrectionSpec& spec, const Axis& axis, std::size_t in_hand);
void move_grip(CorrectionSpec& spec, std::string_view key, double hz,
               std::optional<double> level_db, const Axis& axis, std::size_t in_hand);
void widen(CorrectionSpec& spec, double octave_factor, const Axis& axis, std::size_t in_hand);

// The same for any stage; without handles these do nothing.
std::vector<Grip> grips_of(const StageSpec& spec, const Axis& axis, std::size_t in_hand = 0);
void move_grip(StageSpec& spec, std::string_view key, double hz, std::optional<double> level_db,
               const Axis& axis, std::size_t in_hand = 0);
void widen(StageSpec& spec, double octave_factor, const Axis& axis, std::size_t in_hand = 0);

} // namespace syntonon
