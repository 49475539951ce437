// A channel as an instrument: stages that are still set while it sounds, in a row, for voices side
// by side.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/design/modelled_filter.h"
#include "core/filter/biquad.h"
#include "core/study/briefs.h"
#include "core/study/study.h"

#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace syntonon {

// What is still set. Names are for people: "Diode ladder, frequency".
struct InstrumentParameter {
    std::string symbol; // letters, digits and "_": "ladder_frequency"
    std::string name;
    std::string unit; // "Hz", "dB" or none
    double least = 0, most = 1, usual = 0;
    bool by_ratio = false; // how it glides and is scaled
};

struct GainPart {
    double sign = 1; // its level is a parameter
};
struct DelayPart {
    std::size_t samples = 0;
};
// A parametric section is a state-variable filter of the same answer, said by its Q.
struct InstrumentPart {
    std::string title;
    std::variant<LadderModel, StateVariableModel, std::vector<Biquad>, GainPart, DelayPart> what;
    bool by_q = false; // what stands for its resonance is Q
    // Its parameters' places; nothing of those that stay, or that it has not.
    std::optional<std::size_t> frequency, resonance, gain, drive;
};

struct Instrument {
    std::string class_name, title; // "brightwater_dome_aurora", "Aurora"
    std::string study, channel_id;
    double sample_rate_hz = 48000;
    std::vector<InstrumentParameter> parameters;
    std::vector<InstrumentPart> parts;
    // What the bench makes of a signal that is the same everywhere; to the last bit where all parts
    // are modelled, else but for the rounding of sections.
    std::vector<double> input, output;
    bool to_the_last_bit = false;

    // The first ladder or state-variable filter; null: there is none.
    const InstrumentPart* played() const;
    // Sections and delays are right at the rate that they were designed for alone.
    bool is_of_one_rate() const;
};

// That reads back as the same double, in C++ and in Turtle.
std::string source_number(double value);

// Ladders, state-variable filters, parametric sections (bilinear, second order), gains, whole
// samples of delay, and all that has sections: that stays as it is. Refused, naming the stage, what
// has none, and an analog channel.
Expected<Instrument> instrument_of(const Study& study, const Channel& channel, Briefs& briefs);

} // namespace syntonon
