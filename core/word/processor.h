// A processor's profile: what it offers, how it computes, what that costs.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/unknown_keys.h"
#include "core/word/layout.h"
#include "core/word/nearest_words.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// Sections in that structure take so many cycles each, every sample.
struct StructureCycles {
    Structure structure = Structure::direct_form_1;
    double cycles = 8;

    bool operator==(const StructureCycles&) const = default;
};

// An FIR in parts by transforms (T. G. Stockham, High-speed convolution and correlation, Proc.
// AFIPS 28, 1966; G. P. M. Egelmeers and P. C. W. Sommen, A new method for efficient convolution in
// frequency domain by nonuniform partitioning, 1996): of two transforms of 2P real samples and a
// product of P + 1 bins for each part of P taps, every P samples.
struct BlockConvolution {
    int part_taps = 64;          // P
    double transform_cycles = 3; // times 2P log2(2P), for one transform
    double bin_cycles = 4;       // a complex product and its addition

    bool operator==(const BlockConvolution&) const = default;
};

struct Processor {
    std::string id, name;
    std::string note; // for people

    std::vector<double> sample_rates_hz; // empty: any
    Arithmetic section_words, tap_words;
    std::vector<StructureCycles> structures = {{}}; // those that it has
    std::optional<double> b_below, a_below;         // of direct forms: |b|, |a| are less
    SectionConvention convention;                   // of direct forms

    std::optional<int> most_sections, most_taps; // of all channels together
    double tap_cycles = 1;                       // a tap by a sum of products, every sample
    std::optional<BlockConvolution> block_convolution;
    double channel_cycles = 0; // of each channel, every sample, beside its filters
    double block_cycles = 0;   // of each block, for all channels
    std::optional<double> coefficient_words, state_words; // of memory
    std::vector<int> block_frames = {1};                  // sizes it can be run with
    double clock_hz = 100e6;
    double usable_share = 1;      // of its time
    double converter_samples = 0; // latency that is there without any filter

    UnknownKeys unknown = {};

    bool has(Structure structure) const;
    bool runs_in_blocks_of(int frames) const;
    WordFormat format_for(Structure structure) const;
    bool operator==(const Processor&) const = default;
};

// Refuses, with the field's name as place: words that contradict each other, no structure, one
// named twice or that cannot be with these words (error feedback with floats), numbers that are
// negative or not finite, a share beyond 1, parts that are no power of two.
Expected<void> check(const Processor& processor);

// Made-up ones that come with the program, to begin from.
const std::vector<Processor>& shipped_processors();
// Null when there is none of that id.
const Processor* shipped_processor(std::string_view id);

} // namespace syntonon
