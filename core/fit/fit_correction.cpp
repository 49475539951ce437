// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fit_correction.h"

#include "core/fit/find_all_passes.h"
#include "core/fit/find_sections.h"
#include "core/fit/fit_taps.h"
#include "core/fit/fitted_to.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <iterator>
#include <numeric>

namespace syntonon {
namespace {

using Sections = std::vector<SectionNumbers>;

// A step's nearest multiple within the bounds, or the bounds' own end where there is none.
double stepped(double value, double step, const JointSections::Bounds& bounds) {
    const double least = std::ceil(bounds.least / step - 1e-9) * step;
    const double greatest = std::floor(bounds.greatest / step + 1e-9) * step;
    const double nearest = std::round(value / step) * step;
    return least > greatest ? value : std::clamp(nearest, least, greatest);
}

// Of all-passes, or of all others.
std::size_t locked_count(const SectionsCorrection& method, bool of_all_passes) {
    return static_cast<std::size_t>(
        std::ranges::count_if(method.found, [of_all_passes](const FoundSection& found) {
            return found.locked
                   && (found.section.shape == ParametricShape::all_pass) == of_all_passes;
        }));
}

class SectionsFit {
public:
    SectionsFit(const CorrectionSpec& spec, CorrectionAim aim, double sample_rate_hz,
                const Watch& watch, const CorrectionSoFar& so_far)
        : spec_(spec), method_(std::get<SectionsCorrection>(spec.method)), asked_(aim),
          aim_(std::move(aim)), sample_rate_hz_(sample_rate_hz), watch_(watch), so_far_(so_far) {}

    CorrectionSpec fitted() {
        TimedSections timed{found()};
        const bool minds_seats =
            spec_.over == CorrectionOver::worst_position && aim_.positions_db.size() > 1;
        if (minds_seats) {
            timed.sections = for_worst_position(std::move(timed.sections));
        }
        if (aim_.timing) {
            timed = in_time(std::move(timed.sections));
        }
        timed = rounded(std::move(timed));
        if (minds_seats) { // what came after may have harmed one
            timed.sections = step_back_from_worse(std::move(timed.sections));
        }
        return with(timed);
    }

private:
    std::size_t free_count() const {
        return static_cast<std::size_t>(method_.count) - locked_count(method_, false);
    }

    Sections found() {
        const JointSections task(spec_, aim_, sample_rate_hz_);
        return find_sections(task, method_, aim_, free_count(),
                             watch_.part(0, aim_.timing ? 0.5 : 1),
                             [this](std::span<const SectionNumbers> sections) {
                                 if (so_far_) {
                                     so_far_(with({{sections.begin(), sections.end()}}));
                                 }
                             });
    }

    // All-passes beside them, and then all of it together, as long as the limits are kept.
    TimedSections in_time(Sections sections) const {
        JointSections levels(spec_, aim_, sample_rate_hz_);
        const JointTiming timing(spec_, aim_, sample_rate_hz_);
        const JointTiming straight(spec_, aim_, sample_rate_hz_, PhaseErrors::straight);
        const auto wanted = static_cast<std::size_t>(method_.all_passes);
        const std::size_t locked = locked_count(method_, true);
        TimedSections timed = with_all_passes(
            levels, timing, straight, std::move(sections), wanted - std::min(wanted, locked),
            watch_.part(0.5, 1), [this](const TimedSections& found) {
                if (so_far_) {
                    so_far_(with(found));
                }
            });
        constexpr Effort effort{100, 1e-4, {}};
        constexpr int most_times = 6;
        const auto cost = [&](const TimedSections& all) {
            return levels.cost(all.sections) + timing.cost(all);
        };
        for (int i = 0; i < most_times && !watch_.is_stopped(); ++i) {
            TimedSections all = timed;
            refine(levels, timing, all, effort, watch_);
            if (keeps_limits(levels, all.sections)) {
                return cost(all) < cost(timed) ? all : timed;
            }
            levels.make_limits_dearer(5);
        }
        return timed;
    }

    static bool keeps_limits(const JointSections& task, const Sections& sections) {
        return task.worst_over_limit_db(sections) <= 0
               && task.worst_outside_db(sections) <= JointSections::outside_db;
    }

    CorrectionSpec with(const TimedSections& timed) const {
        CorrectionSpec spec = spec_;
        auto& method = std::get<SectionsCorrection>(spec.method);
        auto& all = method.found;
        method.delay_ms = 1e3 * timed.delay_s;
        std::erase_if(all, [](const FoundSection& one) { return !one.locked; });
        for (const SectionNumbers& section : timed.sections) {
            all.push_back({spec_of(section), false, {}});
        }
        std::ranges::stable_sort(all, {},
                                 [](const FoundSection& one) { return one.section.frequency_hz; });
        note_fitted_to(spec, asked_);
        return spec;
    }

    std::vector<double> errors_db(const Sections& sections) const {
        const std::vector<double> gain = found_gain_db(with({sections}), aim_, sample_rate_hz_);
        std::vector<double> errors;
        for (const auto& position : aim_.positions_db) {
            errors.push_back(error_of(aim_, position, gain).rms_db);
        }
        return errors;
    }

    // The sum of squares over positions is, but for a constant, that about their weighted mean:
    // so each round fits to a mean in which what is worst counts more (the weights of a greatest
    // error's dual problem: Boyd and Vandenberghe, Convex Optimization, 2004, section 5.3).
    Sections for_worst_position(Sections sections) {
        constexpr int rounds = 10;
        constexpr Effort effort{40, 1e-4, {}};
        const std::vector<double> before = errors_db({});
        std::vector<double> weights(before.size(), 1.0);
        Sections best = sections;
        double least = worst(errors_db(sections), before);
        for (int round = 0; round < rounds && !watch_.is_stopped(); ++round) {
            const std::vector<double> now = errors_db(sections);
            const double mean =
                std::accumulate(now.begin(), now.end(), 0.0) / static_cast<double>(now.size());
            for (std::size_t i = 0; i < now.size(); ++i) {
                const bool is_worse = now[i] > before[i];
                weights[i] *= std::exp(2 * (now[i] / mean - 1)) * (is_worse ? 1.5 : 1);
            }
            aim_at_positions(spec_, weights, aim_);
            const JointSections task(spec_, aim_, sample_rate_hz_);
            task.refine(sections, effort, watch_);
            if (const double cost = worst(errors_db(sections), before); cost < least) {
                least = cost;
                best = sections;
            }
        }
        return none_worse(std::move(best), before);
    }

    // The greatest error; what became worse than it was counts more than any.
    static double worst(const std::vector<double>& now, const std::vector<double>& before) {
        double greatest = 0;
        for (std::size_t i = 0; i < now.size(); ++i) {
            const double excess = std::max(0.0, now[i] - before[i]);
            greatest = std::max(greatest, now[i] + 100 * excess);
        }
        return greatest;
    }

    // Without any gain nothing is worse: so much of it as leaves that so.
    Sections none_worse(Sections sections, const std::vector<double>& before) const {
        const auto scaled = [&](double share) {
            Sections all = sections;
            for (SectionNumbers& section : all) {
                section.gain_db *= share;
            }
            return all;
        };
        const auto is_fine = [&](const Sections& all) {
            const std::vector<double> now = errors_db(all);
            return std::ranges::equal(now, before,
                                      [](double a, double b) { return a <= b + 1e-9; });
        };
        if (is_fine(sections)) {
            return sections;
        }
        double fine = 0, too_much = 1;
        for (int i = 0; i < 20; ++i) {
            const double middle = (fine + too_much) / 2;
            (is_fine(scaled(middle)) ? fine : too_much) = middle;
        }
        return scaled(fine);
    }

    // The same in whole steps of gain, where gains have some: each time the one that helps most.
    Sections step_back_from_worse(Sections sections) const {
        const std::vector<double> before = errors_db({});
        if (method_.gain_step_db == 0) {
            return none_worse(std::move(sections), before);
        }
        const JointSections task(spec_, aim_, sample_rate_hz_);
        const bool kept_limits = keeps_limits(task, sections); // what is locked may break them
        const auto excess = [&](const Sections& all) {         // to break one now is worse than any
            constexpr double broken = 100;
            const std::vector<double> now = errors_db(all);
            double greatest = 0;
            for (std::size_t i = 0; i < now.size(); ++i) {
                greatest = std::max(greatest, now[i] - before[i]);
            }
            return kept_limits && !keeps_limits(task, all) ? greatest + broken : greatest;
        };
        while (excess(sections) > 1e-9) {
            double least = infinity;
            Sections best;
            for (std::size_t i = 0; i < sections.size(); ++i) {
                if (Sections one = sections; take_step_back(one[i])) {
                    if (const double now = excess(one); now < least) {
                        least = now;
                        best = std::move(one);
                    }
                }
            }
            if (best.empty()) {
                break;
            }
            sections = std::move(best);
        }
        return sections;
    }

    // Towards 0; false where it is there.
    bool take_step_back(SectionNumbers& section) const {
        const double step = std::min(method_.gain_step_db, std::abs(section.gain_db));
        section.gain_db -= std::copysign(step, section.gain_db);
        return step > 0;
    }

    // Frequencies first, then gains, each time the others refined around what is fixed.
    TimedSections rounded(TimedSections timed) const {
        constexpr Effort effort{40, 1e-5, {}};
        const JointSections task(spec_, aim_, sample_rate_hz_);
        std::optional<JointTiming> timing;
        if (aim_.timing) {
            timing.emplace(spec_, aim_, sample_rate_hz_);
        }
        const auto refine_all = [&](const FreeNumbers& free) {
            if (timing) {
                refine(task, *timing, timed, effort, watch_, free);
            } else {
                task.refine(timed.sections, effort, watch_, free);
            }
        };
        Sections& sections = timed.sections;
        FreeNumbers free;
        if (method_.frequency_steps_oct > 0) {
            const double step = 1 / method_.frequency_steps_oct;
            const double origin = std::log2(1000.0);
            for (SectionNumbers& section : sections) {
                auto bounds = task.bounds_of(section, 0);
                bounds = {bounds.least - origin, bounds.greatest - origin};
                section.log2_hz = origin + stepped(section.log2_hz - origin, step, bounds);
            }
            free.frequency = false;
            refine_all(free);
        }
        if (method_.gain_step_db > 0) {
            for (SectionNumbers& section : sections) {
                section.gain_db =
                    stepped(section.gain_db, method_.gain_step_db, task.bounds_of(section, 1));
            }
            std::erase_if(sections, [](const SectionNumbers& s) {
                return s.gain_db == 0 && s.shape != ParametricShape::all_pass;
            });
            free.gain = false;
            refine_all(free);
            step_back_from_limits(task, sections);
        }
        return timed;
    }

    // A rounded gain may have gone beyond a limit of the whole: one step less where it is largest.
    void step_back_from_limits(const JointSections& task, Sections& sections) const {
        for (std::size_t tries = 0; tries < 20 * sections.size(); ++tries) {
            if (keeps_limits(task, sections)) {
                return;
            }
            double least = infinity;
            Sections best;
            for (std::size_t i = 0; i < sections.size(); ++i) {
                if (Sections one = sections; take_step_back(one[i])) {
                    if (const double cost = task.cost(one); cost < least) {
                        least = cost;
                        best = std::move(one);
                    }
                }
            }
            if (best.empty()) {
                return;
            }
            sections = std::move(best);
        }
    }

    const CorrectionSpec& spec_;
    const SectionsCorrection& method_;
    CorrectionAim asked_, aim_; // as it came, and as the positions count now
    double sample_rate_hz_;
    const Watch& watch_;
    const CorrectionSoFar& so_far_;
};

Expected<void> check_found(const SectionsCorrection& method, const Brief& brief) {
    const std::size_t locked = locked_count(method, false);
    if (locked >= static_cast<std::size_t>(method.count)) {
        return refuse(
            "count",
            fmt::format("{} sections are locked, and at most {} are allowed: none is left "
                        "to be found",
                        locked, method.count),
            "allow more, or unlock some");
    }
    for (std::size_t i = 0; i < method.found.size(); ++i) {
        if (const auto made = parametric_filter(method.found[i].section, brief.axis());
            method.found[i].locked && !made) {
            return tl::unexpected(within(fmt::format("sections[{}]", i), made.error()));
        }
    }
    return {};
}

Expected<CorrectionSpec> fit_taps(CorrectionSpec spec, const CorrectionAim& aim, const Brief& brief,
                                  const Watch& watch) {
    auto found = find_taps(spec, aim, brief, watch);
    if (!found) {
        return tl::unexpected(found.error());
    }
    auto& method = std::get<TapsCorrection>(spec.method);
    method.found = std::make_shared<const std::vector<double>>(std::move(found->taps));
    method.timing_up_to_hz = found->timing_up_to_hz;
    method.sound_at_samples = static_cast<int>(std::lround(found->delay_samples));
    method.worst_pre_ringing_db =
        found->pre_ringing_db.empty() ? 0 : std::ranges::max(found->pre_ringing_db);
    note_fitted_to(spec, aim);
    return spec;
}

} // namespace

LevelError error_of(const CorrectionAim& aim, const std::vector<double>& seen_db,
                    const std::vector<double>& gain_db) {
    LevelError error;
    double squares = 0, weights = 0;
    for (std::size_t i = 0; i < aim.size(); ++i) {
        if (aim.weight[i] <= 0) {
            continue;
        }
        const double off = std::abs(seen_db[i] + gain_db[i] - aim.target_db[i]);
        squares += aim.weight[i] * off * off;
        weights += aim.weight[i];
        if (off > error.worst_db) {
            error.worst_db = off;
            error.worst_hz = aim.hz[i];
        }
    }
    error.rms_db = std::sqrt(squares / weights);
    return error;
}

std::optional<TimingError> timing_error_of(const CorrectionSpec& spec, const CorrectionAim& aim,
                                           double sample_rate_hz) {
    if (!aim.timing) {
        return std::nullopt;
    }
    CorrectionSpec nothing = spec;
    std::get<SectionsCorrection>(nothing.method).found.clear();
    const JointTiming timing(nothing, aim, sample_rate_hz);
    std::vector<double> phase = timing.phases({});
    if (const auto made = design(spec, brief_at(Axis{sample_rate_hz}), Watch())) {
        phase = made->filter.response(timing.grid()).phase_rad;
    }
    TimingError error = timing.error_of(phase, timing.best_delay_s(phase));
    error.by_delay = std::get<SectionsCorrection>(spec.method).match == CorrectionMatch::delay;
    return error;
}

std::vector<double> found_gain_db(const CorrectionSpec& spec, const CorrectionAim& aim,
                                  double sample_rate_hz) {
    const auto made = design(spec, brief_at(Axis{sample_rate_hz}), Watch());
    const auto grid = FrequencyGrid::from_frequencies(aim.hz, Axis{sample_rate_hz});
    return made && grid ? made->filter.magnitude_db(*grid) : std::vector<double>(aim.size(), 0.0);
}

std::optional<OutOfDate> out_of_date(const CorrectionSpec& spec, const Brief& brief) {
    if (!is_fitted(spec)) {
        return std::nullopt;
    }
    const auto aim = correction_aim(spec, brief);
    return aim ? out_of_date(spec, *aim) : std::nullopt;
}

Expected<FitFigures> figures_of_fit(const CorrectionSpec& spec, const Brief& brief) {
    const auto aim = correction_aim(spec, brief);
    if (!aim) {
        return tl::unexpected(aim.error());
    }
    const std::vector<double> none(aim->size(), 0.0);
    const std::vector<double> gain = found_gain_db(spec, *aim, brief.sample_rate_hz);
    const auto errors = [&](const std::vector<double>& seen) {
        return FitFigures::Errors{error_of(*aim, seen, none), error_of(*aim, seen, gain)};
    };
    FitFigures figures;
    figures.together = errors(aim->seen_db);
    for (const auto& position : aim->positions_db) {
        figures.positions.push_back(errors(position));
    }
    figures.found = found_count(spec);
    figures.hz = aim->hz;
    std::ranges::transform(gain, aim->gain_db, std::back_inserter(figures.left_over_db),
                           std::minus());
    std::ranges::transform(aim->seen_db, aim->gain_db, std::back_inserter(figures.reachable_db),
                           std::plus());
    CorrectionSpec nothing = spec;
    if (auto* sections = std::get_if<SectionsCorrection>(&nothing.method)) {
        sections->found.clear();
    }
    const auto before = timing_error_of(nothing, *aim, brief.sample_rate_hz);
    const auto after = timing_error_of(spec, *aim, brief.sample_rate_hz);
    if (before && after) {
        figures.timing = FitFigures::Timing{*before, *after};
    }
    return figures;
}

Expected<CorrectionSpec> fit(const CorrectionSpec& spec, const Brief& brief, const Watch& watch,
                             const CorrectionSoFar& so_far) {
    auto aim = correction_aim(spec, brief);
    if (!aim) {
        return tl::unexpected(aim.error());
    }
    const auto* method = std::get_if<SectionsCorrection>(&spec.method);
    if (method == nullptr) {
        return fit_taps(spec, *aim, brief, watch);
    }
    if (auto ok = check_found(*method, brief); !ok) {
        return tl::unexpected(ok.error());
    }
    return SectionsFit(spec, std::move(*aim), brief.sample_rate_hz, watch, so_far).fitted();
}

} // namespace syntonon
