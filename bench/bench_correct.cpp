// What corrections cost and how good they are: bench_correct [ROOMS] [RESTARTS]
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/spent.h"
#include "core/base/units.h"
#include "core/curve/gate.h"
#include "core/curve/level_means.h"
#include "core/fit/find_sections.h"
#include "core/fit/fit_correction.h"
#include "core/math/seeded.h"
#include "core/study/briefs.h"
#include "core/study/wished.h"
#include "demo/brightwater.h"
#include "standin/room.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>

using namespace syntonon;

namespace {

constexpr double rate_hz = 48'000;

CorrectionSpec with_sections(int count) {
    CorrectionSpec spec;
    spec.boost_limit_db = 12;
    spec.cut_limit_db = 20;
    spec.dip_db = spec.spread_db = 0; // the target itself, not what is sensible
    auto& method = std::get<SectionsCorrection>(spec.method);
    method.count = count;
    method.section_boost_limit_db = 12;
    method.section_cut_limit_db = 20;
    return spec;
}

// The greatest error of measured curve and chain against the target, in mean dB over a sixth of an
// octave: from the filter itself, on a grid of its own.
LevelError smoothed_error(const CorrectionSpec& spec, const Brief& brief) {
    const CorrectionAim aim = *correction_aim(spec, brief);
    const Filter filter = design(spec, brief, Watch())->filter;
    const auto grid = *FrequencyGrid::logarithmic(10, 23'900, 3000, rate_hz);
    const LevelMeans gain(grid.frequency_hz(), filter.magnitude_db(grid));
    std::vector<double> mean;
    for (const double hz : aim.hz) {
        mean.push_back(gain.over(hz, 1.0 / 6));
    }
    return error_of(aim, aim.seen_db, mean);
}

double worst_beyond_range(const CorrectionSpec& spec, const Brief& brief) {
    const CorrectionAim aim = *correction_aim(spec, brief);
    return JointSections(spec, aim, rate_hz).worst_outside_db([&] {
        std::vector<SectionNumbers> all;
        for (const auto& found : std::get<SectionsCorrection>(spec.method).found) {
            all.push_back(numbers_of_section(found.section));
        }
        return all;
    }());
}

void measure_demo() {
    const Study study = brightwater_study();
    Briefs briefs;
    const CorrectionSpec spec = with_sections(20);
    double all_s = 0;
    for (const auto& channel : study.channels) {
        const auto goal = briefs.goal_of(study, *channel).goal;
        if (channel->measured.empty() || goal == nullptr) {
            continue;
        }
        Brief brief = brief_for(*goal, axis_of(study, *channel));
        brief.seen = seen_of(**briefs.measured_of(study, *channel));
        Expected<CorrectionSpec> found;
        const Spent cost = spent_on([&] { found = fit(spec, brief, Watch()); });
        all_s += cost.wall_s;
        if (!found) {
            fmt::print("{}: {}\n", channel->name, to_text(found.error()));
            continue;
        }
        const LevelError error = smoothed_error(*found, brief);
        fmt::print("{:8} {} sections: {:.2f} s, {:.2f} s of CPU; within {:.2f} dB (at {:.0f} Hz), "
                   "{:.3f} dB rms; {:.2f} dB too much beyond the range\n",
                   channel->name, std::get<SectionsCorrection>(found->method).found.size(),
                   cost.wall_s, cost.cpu_s, error.worst_db, error.worst_hz, error.rms_db,
                   worst_beyond_range(*found, brief));
    }
    fmt::print("all channels of the demo: {:.2f} s\n", all_s);
}

// One FIR for four positions, their timing corrected, too.
void measure_taps() {
    const Study study = brightwater_study();
    Briefs briefs;
    const Channel& channel = *study.channels[1];
    Brief brief = brief_for(*briefs.goal_of(study, channel).goal, axis_of(study, channel));
    brief.seen = seen_of(**briefs.measured_of(study, channel));
    for (const int length : {4096, 65'536}) {
        for (const auto& phase : names_of_correction_phases()) {
            CorrectionSpec spec;
            TapsCorrection method;
            method.length = length;
            method.phase = phase.value;
            spec.method = method;
            Expected<CorrectionSpec> found;
            const Spent cost = spent_on([&] { found = fit(spec, brief, Watch()); });
            if (!found) {
                fmt::print("{} taps, {}: {}\n", length, phase.title, to_text(found.error()));
                continue;
            }
            const CorrectionAim aim = *correction_aim(spec, brief);
            const auto gain = found_gain_db(*found, aim, rate_hz);
            double off = 0;
            for (std::size_t i = 0; i < gain.size(); ++i) {
                off = std::max(off, std::abs(gain[i] - aim.gain_db[i]));
            }
            const auto& made = std::get<TapsCorrection>(found->method);
            fmt::print("{} taps, {}, {} positions: {:.2f} s, {:.2f} s of CPU; within {:.3f} dB of "
                       "the ideal; timing up to {:.0f} Hz, pre-ringing {:.0f} dB\n",
                       length, phase.title, brief.seen.positions.size(), cost.wall_s, cost.cpu_s,
                       off, made.timing_up_to_hz, made.worst_pre_ringing_db);
        }
    }
}

// Twenty sections, and all-passes for the timing of four positions.
void measure_timing() {
    const Study study = brightwater_study();
    Briefs briefs;
    const Channel& channel = *study.channels[1];
    Brief brief = brief_for(*briefs.goal_of(study, channel).goal, axis_of(study, channel));
    brief.seen = seen_of(**briefs.measured_of(study, channel));
    for (const CorrectionMatch match : {CorrectionMatch::complex, CorrectionMatch::delay}) {
        for (const int all_passes : {4, 8, 16}) {
            CorrectionSpec spec = with_sections(20);
            std::get<SectionsCorrection>(spec.method).match = match;
            std::get<SectionsCorrection>(spec.method).all_passes = all_passes;
            const CorrectionAim aim = *correction_aim(spec, brief);
            const TimingError before = *timing_error_of(spec, aim, rate_hz);
            Expected<CorrectionSpec> found;
            const Spent cost = spent_on([&] { found = fit(spec, brief, Watch()); });
            const TimingError after = *timing_error_of(*found, aim, rate_hz);
            const bool by_phase = match == CorrectionMatch::complex;
            fmt::print("20 sections and {} all-passes for {}: {:.2f} s, {:.2f} s of CPU; within "
                       "{:.2f} dB; {:.{}f} {} rms, {:.{}f} without; {:.2f} ms later\n",
                       all_passes, by_phase ? "phase" : "group delay", cost.wall_s, cost.cpu_s,
                       smoothed_error(*found, brief).worst_db, after.rms, by_phase ? 1 : 3,
                       by_phase ? "degrees" : "ms", before.rms, by_phase ? 1 : 3,
                       std::get<SectionsCorrection>(found->method).delay_ms);
        }
    }
}

// A living room's size to a hall's; a loudspeaker with some faults.
Brief synthesised_room(int number) {
    Seeded random(1000.0 + number);
    RoomPlan room;
    room.length_m = random.between(4, 15);
    room.width_m = random.between(3, 12);
    room.height_m = random.between(2.4, 7);
    room.reflection = random.between(0.5, 0.8);
    const auto in = [&](double extent) { return extent * random.between(0.15, 0.85); };
    LoudspeakerPlan loudspeaker;
    loudspeaker.place = {in(room.length_m), in(room.width_m), in(room.height_m)};
    loudspeaker.sections = {parametric(ParametricShape::high_pass, random.between(25, 45), 0, 0.8)};
    for (int i = 0; i < 6; ++i) {
        loudspeaker.sections.push_back(parametric(ParametricShape::peak,
                                                  60 * std::exp2(random.between(0, 8)),
                                                  random.between(-6, 6), random.between(0.5, 4)));
    }
    const Place microphone{in(room.length_m), in(room.width_m), in(room.height_m)};
    const ImpulseResponse impulse = *room_response(room, loudspeaker, microphone, rate_hz);
    const Gate gate{-0.006, -0.004, 0.3, 0.45, 8};
    const Curve curve = *gated_response(impulse, gate, arrival_s(impulse));
    const double level = *mean_level_db(curve, 200, 5000);
    Brief brief = brief_at(rate_hz);
    brief.wished = std::make_shared<const Wished>(
        Wished{WishedPart{{20, 20'000}, {level + 2, level - 2}, {}, {}, {}}});
    const auto sampled = std::make_shared<const SampledCurve>(
        SampledCurve{curve.frequency_hz, curve.magnitude_db, {}});
    brief.seen = {{{sampled, 1}}, sampled, nullptr};
    return brief;
}

std::vector<SectionNumbers> at_random(Seeded& random, const CorrectionSpec& spec,
                                      std::size_t count) {
    std::vector<SectionNumbers> sections;
    for (std::size_t i = 0; i < count; ++i) {
        sections.push_back({ParametricShape::peak,
                            random.between(std::log2(spec.from_hz), std::log2(spec.to_hz)),
                            random.between(-6, 6), random.between(-1, 3)});
    }
    return sections;
}

// All at once from a random start, the limits kept as find_sections() keeps them. Where they cannot
// be, it does not count.
std::vector<SectionNumbers> from_random(Seeded& random, const CorrectionSpec& spec,
                                        const CorrectionAim& aim, std::size_t count) {
    JointSections task(spec, aim, rate_hz);
    auto sections = at_random(random, spec, count);
    for (int i = 0; i < 6; ++i) {
        task.refine(sections, {300, 1e-6, {}}, Watch());
        if (task.worst_outside_db(sections) <= JointSections::outside_db
            && task.worst_over_limit_db(sections) <= 0) {
            return sections;
        }
        task.make_limits_dearer(5);
    }
    return {};
}

void measure_rooms(int rooms, int restarts) {
    std::vector<Brief> briefs;
    for (int i = 0; i < rooms; ++i) {
        briefs.push_back(synthesised_room(i));
    }
    fmt::print("{} synthesised rooms, error of mean dB over 1/6 octave, 40 Hz to 16 kHz, against "
               "the best of {} random starts\n",
               rooms, restarts);
    for (const int count : {4, 8, 12, 16, 20, 30}) {
        std::vector<double> rms, worst, seconds, against;
        for (std::size_t i = 0; i < briefs.size(); ++i) {
            const CorrectionSpec spec = with_sections(count);
            Expected<CorrectionSpec> found;
            seconds.push_back(spent_on([&] { found = fit(spec, briefs[i], Watch()); }).cpu_s);
            const LevelError error = smoothed_error(*found, briefs[i]);
            rms.push_back(error.rms_db);
            worst.push_back(error.worst_db);
            const CorrectionAim aim = *correction_aim(spec, briefs[i]);
            const JointSections task(spec, aim, rate_hz);
            Seeded random(7 * static_cast<double>(i) + count);
            double best = infinity;
            for (int k = 0; k < restarts; ++k) {
                const auto sections =
                    from_random(random, spec, aim, static_cast<std::size_t>(count));
                best = std::min(best, std::sqrt(task.cost(sections)));
            }
            std::vector<SectionNumbers> ours;
            for (const auto& one : std::get<SectionsCorrection>(found->method).found) {
                ours.push_back(numbers_of_section(one.section));
            }
            against.push_back(std::sqrt(task.cost(ours)) / best);
        }
        for (auto* values : {&rms, &worst, &seconds, &against}) {
            std::ranges::sort(*values);
        }
        const auto middle = [](const std::vector<double>& v) { return v[v.size() / 2]; };
        fmt::print("{:2} sections: rms {:.2f} dB (worst room {:.2f}), greatest {:.2f} dB ({:.2f}), "
                   "{:.2f} s of CPU ({:.2f})",
                   count, middle(rms), rms.back(), middle(worst), worst.back(), middle(seconds),
                   seconds.back());
        if (restarts > 0) {
            fmt::print("; {:.2f} of the best random start ({:.2f})", middle(against),
                       against.back());
        }
        fmt::print("\n");
    }
}

} // namespace

int main(int argc, char** argv) {
    measure_demo();
    measure_taps();
    measure_timing();
    measure_rooms(argc > 1 ? std::atoi(argv[1]) : 20, argc > 2 ? std::atoi(argv[2]) : 0);
    return 0;
}
