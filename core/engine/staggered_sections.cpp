// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/staggered_sections.h"

#include <algorithm>
#include <cstring>

namespace syntonon {
namespace {

#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__)
// Without fused products, so that every machine gives the same bits.
#define SYNTONON_STAGGERED_CLONES __attribute__((target_clones("avx2", "default")))
#else
#define SYNTONON_STAGGERED_CLONES
#endif

using Four = double __attribute__((vector_size(32)));
using FourMarks = long long __attribute__((vector_size(32)));
using Group = StaggeredSections::Group;

constexpr int lanes = 4, vectors = 2;
static_assert(lanes * vectors == StaggeredSections::at_a_time);
constexpr std::ptrdiff_t behind = lanes * vectors - 1; // the last section, in samples

// Step n is the first section's sample n. Sections that have no sample to take, at the block's
// ends, keep their state.
SYNTONON_STAGGERED_CLONES void run_group(Group& group, double* samples, std::ptrdiff_t count) {
    Four b0[vectors], b1[vectors], b2[vectors], a1[vectors], a2[vectors], s1[vectors], s2[vectors];
    std::memcpy(b0, group.b0.data(), sizeof b0);
    std::memcpy(b1, group.b1.data(), sizeof b1);
    std::memcpy(b2, group.b2.data(), sizeof b2);
    std::memcpy(a1, group.a1.data(), sizeof a1);
    std::memcpy(a2, group.a2.data(), sizeof a2);
    std::memcpy(s1, group.s1.data(), sizeof s1);
    std::memcpy(s2, group.s2.data(), sizeof s2);
    Four y[vectors] = {};
    for (std::ptrdiff_t n = 0; n < count + behind; ++n) {
        // Each takes what the one before it made a step ago.
        Four x[vectors];
        for (int v = 0; v < vectors; ++v) {
            x[v] = __builtin_shuffle(y[v], FourMarks{0, 0, 1, 2});
        }
        x[0][0] = n < count ? samples[n] : 0.0;
        for (int v = 1; v < vectors; ++v) {
            x[v][0] = y[v - 1][lanes - 1];
        }
        const bool is_whole = n >= behind && n < count;
        for (int v = 0; v < vectors; ++v) {
            y[v] = b0[v] * x[v] + s1[v];
            const Four next1 = (b1[v] * x[v] + s2[v]) - a1[v] * y[v],
                       next2 = b2[v] * x[v] - a2[v] * y[v];
            if (is_whole) {
                s1[v] = next1;
                s2[v] = next2;
                continue;
            }
            for (int i = 0; i < lanes; ++i) {
                const std::ptrdiff_t sample = n - (v * lanes + i);
                if (sample >= 0 && sample < count) {
                    s1[v][i] = next1[i];
                    s2[v][i] = next2[i];
                }
            }
        }
        if (n >= behind) {
            samples[n - behind] = y[vectors - 1][lanes - 1];
        }
    }
    std::memcpy(group.s1.data(), s1, sizeof s1);
    std::memcpy(group.s2.data(), s2, sizeof s2);
}

} // namespace

StaggeredSections::StaggeredSections(const Cascade& cascade) {
    for (std::size_t first = 0; first < cascade.sections.size(); first += at_a_time) {
        Group group{};
        group.b0.fill(1); // what is missing lets samples through
        const std::size_t here = std::min(at_a_time, cascade.sections.size() - first);
        for (std::size_t i = 0; i < here; ++i) {
            const Biquad& section = cascade.sections[first + i];
            group.b0[i] = section.b0;
            group.b1[i] = section.b1;
            group.b2[i] = section.b2;
            group.a1[i] = section.a1;
            group.a2[i] = section.a2;
        }
        groups_.push_back(group);
    }
}

void StaggeredSections::reset() noexcept {
    for (Group& group : groups_) {
        group.s1.fill(0);
        group.s2.fill(0);
    }
}

void StaggeredSections::process(std::span<double> block) noexcept {
    const auto count = static_cast<std::ptrdiff_t>(block.size());
    if (count == 0) {
        return;
    }
    for (Group& group : groups_) {
        run_group(group, block.data(), count);
    }
}

} // namespace syntonon
