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
using Group = StaggeredSections::Group;

constexpr int lanes = 4, vectors = 2;
static_assert(std::size_t{lanes} * vectors == StaggeredSections::at_a_time);
constexpr std::ptrdiff_t behind =
    std::ptrdiff_t{lanes} * vectors - 1; // the last section, in samples

struct Vectors {
    Four b0[vectors], b1[vectors], b2[vectors], a1[vectors], a2[vectors], s1[vectors], s2[vectors],
        y[vectors];
};

// Each section takes what the one before it made a step ago.
inline __attribute__((always_inline)) void next_outputs(Vectors& at, Four (&x)[vectors],
                                                        double input) {
    for (int v = 0; v < vectors; ++v) {
        x[v] = __builtin_shufflevector(at.y[v], at.y[v], 0, 0, 1, 2);
    }
    x[0][0] = input;
    for (int v = 1; v < vectors; ++v) {
        x[v][0] = at.y[v - 1][lanes - 1];
    }
    for (int v = 0; v < vectors; ++v) {
        at.y[v] = at.b0[v] * x[v] + at.s1[v];
    }
}

// Step n is the first section's sample n. At the block's ends, where some sections have no sample
// to take, those keep their state.
inline __attribute__((always_inline)) void edge_step(Vectors& at, double* samples, std::ptrdiff_t n,
                                                     std::ptrdiff_t count) {
    Four x[vectors];
    next_outputs(at, x, n < count ? samples[n] : 0.0);
    for (int v = 0; v < vectors; ++v) {
        for (int i = 0; i < lanes; ++i) {
            const std::ptrdiff_t sample = n - (v * lanes + i);
            if (sample >= 0 && sample < count) {
                at.s1[v][i] = (at.b1[v][i] * x[v][i] + at.s2[v][i]) - at.a1[v][i] * at.y[v][i];
                at.s2[v][i] = at.b2[v][i] * x[v][i] - at.a2[v][i] * at.y[v][i];
            }
        }
    }
    if (n >= behind) {
        samples[n - behind] = at.y[vectors - 1][lanes - 1];
    }
}

SYNTONON_STAGGERED_CLONES void run_group(Group& group, double* samples, std::ptrdiff_t count) {
    Vectors at{};
    std::memcpy(at.b0, group.b0.data(), sizeof at.b0);
    std::memcpy(at.b1, group.b1.data(), sizeof at.b1);
    std::memcpy(at.b2, group.b2.data(), sizeof at.b2);
    std::memcpy(at.a1, group.a1.data(), sizeof at.a1);
    std::memcpy(at.a2, group.a2.data(), sizeof at.a2);
    std::memcpy(at.s1, group.s1.data(), sizeof at.s1);
    std::memcpy(at.s2, group.s2.data(), sizeof at.s2);
    for (std::ptrdiff_t n = 0; n < behind; ++n) {
        edge_step(at, samples, n, count);
    }
    for (std::ptrdiff_t n = behind; n < count; ++n) {
        Four x[vectors];
        next_outputs(at, x, samples[n]);
        for (int v = 0; v < vectors; ++v) {
            at.s1[v] = (at.b1[v] * x[v] + at.s2[v]) - at.a1[v] * at.y[v];
            at.s2[v] = at.b2[v] * x[v] - at.a2[v] * at.y[v];
        }
        samples[n - behind] = at.y[vectors - 1][lanes - 1];
    }
    for (std::ptrdiff_t n = std::max(count, behind); n < count + behind; ++n) {
        edge_step(at, samples, n, count);
    }
    std::memcpy(group.s1.data(), at.s1, sizeof at.s1);
    std::memcpy(group.s2.data(), at.s2, sizeof at.s2);
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
