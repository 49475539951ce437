// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/render.h"

#include "core/engine/filter_engine.h"
#include "core/engine/flush_denormals.h"
#include "core/filter/filter.h"
#include "core/goal/time_answer.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double bounds = 1e12; // of full scale
constexpr std::size_t block = 16'384;

// The first sample that is out of all bounds, NaN included; the size where there is none.
std::size_t bounded_part(std::span<const double> samples) {
    const auto odd =
        std::ranges::find_if(samples, [](double x) { return !(std::abs(x) <= bounds); });
    return static_cast<std::size_t>(odd - samples.begin());
}

} // namespace

std::size_t memory_samples(const Filter& filter, double fall_db, std::size_t most) {
    const auto radius = filter.slowest_pole_radius();
    if (!radius || *radius >= 1) {
        return most;
    }
    const double needed = filter.finite_samples() + std::ceil(decay_samples(*radius, fall_db));
    return needed < static_cast<double>(most) ? static_cast<std::size_t>(needed) : most;
}

Expected<Rendered> render(const Filter& filter, std::span<const double> signal,
                          std::size_t most_tail, const Watch& watch) {
    auto engine = engine_of(filter);
    if (!engine) {
        return tl::unexpected(engine.error());
    }
    constexpr double forgotten_db = 300; // below what a double keeps beside full scale
    const std::size_t tail = most_tail > 0 ? memory_samples(filter, forgotten_db, most_tail) : 0;
    const FlushDenormals flush;
    Rendered made;
    made.out.assign(signal.begin(), signal.end());
    made.tail.assign(tail, signal.empty() ? 0 : signal.back());
    for (std::vector<double>* part : {&made.out, &made.tail}) {
        for (std::size_t from = 0; from < part->size(); from += block) {
            if (watch.is_stopped()) {
                return refuse("", "was stopped");
            }
            const auto piece = std::span(*part).subspan(from, std::min(block, part->size() - from));
            (*engine)->process(piece);
            const std::size_t bounded = bounded_part(piece);
            if (bounded < piece.size()) {
                const bool in_signal = part == &made.out;
                made.runs_away_at = in_signal ? from + bounded : made.out.size();
                part->resize(from + bounded);
                if (in_signal) {
                    made.tail.clear();
                }
                return made;
            }
        }
    }
    return made;
}

} // namespace syntonon
