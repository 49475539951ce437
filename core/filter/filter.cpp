// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/filter.h"

#include "core/filter/form.h"
#include "core/filter/in_sections.h"
#include "core/filter/unwrap.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <mutex>
#include <optional>
#include <type_traits>
#include <utility>

namespace syntonon {

struct Filter::Held {
    explicit Held(AnyForm held) : form(std::move(held)) {}
    AnyForm form;
    mutable std::once_flag asked;
    mutable std::optional<Expected<Roots>> roots;
    mutable std::atomic<bool> has_roots = false;
    mutable std::once_flag asked_rational;
    mutable std::optional<Expected<Rational>> rational;
    mutable std::once_flag asked_stability;
    mutable std::optional<Expected<Stability>> stability;
    mutable std::mutex following;
    mutable std::optional<Axis> followed_on;
    mutable std::shared_ptr<const PhaseKnots> knots; // on that axis
};

namespace {

using Values = std::vector<double>;

template <class Form>
constexpr bool searches_for_roots =
    std::is_same_v<Form,
                   ParallelSum> || std::is_same_v<Form, Loop> || std::is_same_v<Form, Oversampled>;

// One kind of answer on a grid: a cascade's own way, the sum of a series' parts', a multiple of
// what is repeated, else point by point.
template <class OfCascade, class OfPart, class OfPoint>
Values on_grid(const Filter& filter, const FrequencyGrid& grid, OfCascade of_cascade,
               OfPart of_part, OfPoint of_point) {
    if (const auto* cascade = std::get_if<Cascade>(&filter.form())) {
        return of_cascade(*cascade);
    }
    Values values(grid.size(), 0.0);
    if (const auto* chain = std::get_if<Series>(&filter.form())) {
        for (const Filter& part : chain->parts) {
            std::ranges::transform(values, of_part(part), values.begin(), std::plus<>());
        }
        return values;
    }
    if (const auto* repeated = std::get_if<Repeated>(&filter.form())) {
        values = of_part(repeated->filter);
        const auto times = static_cast<double>(repeated->count);
        std::ranges::for_each(values, [&](double& value) { value *= times; });
        return values;
    }
    if (const auto* computed = std::get_if<Computed>(&filter.form())) {
        return of_part(computed->linear);
    }
    const auto prober = filter.prober();
    for (std::size_t i = 0; i < grid.size(); ++i) {
        values[i] = of_point(*prober, grid.point(i));
    }
    return values;
}

// Frequencies at which the phase of a filter is followed. What ripples more often would take too
// long; its phase is followed as closely as somebody asks.
std::vector<double> hz_to_follow(const Filter& filter, const Axis& axis) {
    constexpr double ratio = 1.03, most_ripples = 2048;
    constexpr int most_halvings = 14; // what is closer the phase's own halving finds
    const double high = axis.end_hz(), low = axis.is_analog() ? high * 1e-12 : high * 1e-4;
    auto hz = filter.telling_hz({low, high, ratio, axis, most_ripples, most_halvings});
    for (double f = low; f < high; f *= ratio) {
        hz.push_back(f);
    }
    return hz;
}

} // namespace

Filter::Filter(AnyForm form) : held_(std::make_shared<const Held>(std::move(form))) {}
Filter::Filter() {
    static const Filter wire{Cascade{}};
    held_ = wire.held_;
}
Filter::Filter(Cascade form) : Filter(AnyForm(std::move(form))) {}
Filter::Filter(Cascade form, Roots known) : Filter(AnyForm(std::move(form))) {
    std::call_once(held_->asked, [&] {
        held_->roots.emplace(std::move(known));
        held_->has_roots = true;
    });
}
Filter::Filter(AnalogCascade form) : Filter(AnyForm(std::move(form))) {}
Filter::Filter(AnalogCascade form, Roots known) : Filter(AnyForm(std::move(form))) {
    std::call_once(held_->asked, [&] {
        held_->roots.emplace(std::move(known));
        held_->has_roots = true;
    });
}
Filter::Filter(Taps form) : Filter(AnyForm(std::move(form))) {}
Filter::Filter(Delay form) : Filter(AnyForm(form)) {}
Filter::Filter(Gain form) : Filter(AnyForm(form)) {}
Filter::Filter(Series form) : Filter(AnyForm(std::move(form))) {}
Filter::Filter(ParallelSum form) : Filter(AnyForm(std::move(form))) {}
Filter::Filter(Loop form) : Filter(AnyForm(std::move(form))) {}
Filter::Filter(Repeated form) : Filter(AnyForm(std::move(form))) {}
Filter::Filter(Computed form) : Filter(AnyForm(std::move(form))) {}
Filter::Filter(Oversampled form) : Filter(AnyForm(std::move(form))) {}

const AnyForm& Filter::form() const {
    return held_->form;
}

bool Filter::operator==(const Filter& other) const {
    return is_same_as(other) || form() == other.form();
}

std::vector<FilterValue> Filter::values(const FrequencyGrid& grid) const {
    const auto prepared = prober();
    std::vector<FilterValue> values(grid.size());
    for (std::size_t i = 0; i < grid.size(); ++i) {
        values[i] = prepared->value(grid.point(i));
    }
    return values;
}

std::shared_ptr<const PhaseKnots> Filter::followed_on(const Axis& axis) const {
    constexpr double most_ripples = 4096;
    // What is added up or fed back after a very long delay turns hither and thither far more often
    // than it could be followed; its phase is left wrapped.
    const bool is_followed =
        std::holds_alternative<Taps>(form()) || rippling_samples() <= most_ripples;
    return std::make_shared<const PhaseKnots>(
        is_followed ? syntonon::phase_knots(*prober(), hz_to_follow(*this, axis), axis)
                    : PhaseKnots{});
}

// Of what is no cascade and no series.
std::shared_ptr<const PhaseKnots> Filter::phase_knots(const Axis& asked) const {
    // Behind a sampled chain analog parts go by Hz, what stands beside them by the sample rate. Of
    // a sampled filter only the frequency by the sample rate matters; see phase_knots.
    const bool goes_by_both = is_mixed() || (is_analog() && !asked.is_analog());
    const Axis axis = goes_by_both ? asked : is_analog() ? analog_knots_axis : Axis(48000);
    const std::lock_guard lock(held_->following);
    if (held_->followed_on != axis) {
        held_->knots = followed_on(axis);
        held_->followed_on = axis;
    }
    return held_->knots;
}

Response Filter::response(const FrequencyGrid& grid) const {
    if (const auto* cascade = std::get_if<Cascade>(&form())) {
        return syntonon::response(*cascade, grid);
    }
    if (const auto* analog = std::get_if<AnalogCascade>(&form())) {
        return syntonon::response(*analog, grid);
    }
    if (const auto* repeated = std::get_if<Repeated>(&form())) {
        Response all = repeated->filter.response(grid);
        all.repeat(static_cast<double>(repeated->count));
        return all;
    }
    if (const auto* computed = std::get_if<Computed>(&form())) {
        return computed->linear.response(grid);
    }
    const auto* chain = std::get_if<Series>(&form());
    if (chain == nullptr) {
        return followed_response(*prober(), *phase_knots(grid.axis()), grid);
    }
    Response all(grid.size());
    for (const Filter& part : chain->parts) {
        all.follow_with(part.response(grid));
    }
    return all;
}

ResponsePoint Filter::response_at(double frequency_hz, const Axis& axis) const {
    const auto grid = FrequencyGrid::from_frequencies({frequency_hz}, axis);
    const Response at = response(grid.value());
    return {at.magnitude_db.front(), at.phase_rad.front(), at.group_delay_samples.front()};
}

Values Filter::magnitude_db(const FrequencyGrid& grid) const {
    return on_grid(
        *this, grid, [&](const Cascade& c) { return syntonon::magnitude_db(c, grid); },
        [&](const Filter& part) { return part.magnitude_db(grid); },
        [](const Prober& p, const CirclePoint& at) { return p.level_db(at); });
}

Values Filter::wrapped_phase_rad(const FrequencyGrid& grid) const {
    return on_grid(
        *this, grid, [&](const Cascade& c) { return syntonon::wrapped_phase_rad(c, grid); },
        [&](const Filter& part) { return part.wrapped_phase_rad(grid); },
        [](const Prober& p, const CirclePoint& at) { return p.phase_rad(at, Side::above); });
}

Values Filter::group_delay_samples(const FrequencyGrid& grid) const {
    return on_grid(
        *this, grid, [&](const Cascade& c) { return syntonon::group_delay_samples(c, grid); },
        [&](const Filter& part) { return part.group_delay_samples(grid); },
        [](const Prober& p, const CirclePoint& at) { return p.group_delay_samples(at); });
}

std::shared_ptr<const Prober> Filter::prober() const {
    return std::visit([](const auto& form) { return syntonon::prober(form); }, form());
}

Values Filter::telling_hz(const TellingRange& range) const {
    Values frequencies;
    std::visit(
        [&]<class Form>(const Form& form) {
            constexpr bool is_cascade =
                std::is_same_v<Form, Cascade> || std::is_same_v<Form, AnalogCascade>;
            if (is_cascade
                || (searches_for_roots<Form> && !is_mixed() && has_few_roots_well_apart())) {
                add_near_roots(*roots(), range, frequencies);
            } else if constexpr (!is_cascade) {
                add_telling_hz(form, range, frequencies);
            }
        },
        form());
    return frequencies;
}

Values Filter::followed_hz(const Axis& axis) const {
    if (const auto* computed = std::get_if<Computed>(&form())) {
        return computed->linear.followed_hz(axis);
    }
    const bool is_answered_otherwise =
        std::holds_alternative<Cascade>(form()) || std::holds_alternative<AnalogCascade>(form())
        || std::holds_alternative<Repeated>(form()) || std::holds_alternative<Series>(form());
    Values frequencies;
    if (!is_answered_otherwise) {
        const double rate = axis.is_analog() ? 1 : axis.sample_rate_hz;
        for (const auto knots = phase_knots(axis); const PhaseKnot& knot : *knots) {
            frequencies.push_back(knot.turns_per_sample * rate);
        }
    }
    return frequencies;
}

bool Filter::has_few_roots_well_apart() const {
    constexpr double well_known = 1e-7;
    return finite_samples() <= double(most_roots_of_a_sum) && roots()
           && roots()->uncertainty < well_known;
}

const Expected<Roots>& Filter::roots() const {
    std::call_once(held_->asked, [&] {
        held_->roots.emplace(std::visit(
            [&]<class Form>(const Form& form) -> Expected<Roots> {
                if constexpr (searches_for_roots<Form>) {
                    if (!rational()) {
                        return tl::unexpected(rational().error());
                    }
                    return is_analog() ? analog_roots_of(*rational()) : roots_of(*rational());
                } else {
                    return roots_of(form);
                }
            },
            form()));
        held_->has_roots = true;
    });
    return *held_->roots;
}

bool Filter::has_roots_at_hand() const {
    constexpr std::size_t soon_found = 96; // taps; a few ms
    if (held_->has_roots) {
        return true;
    }
    if (const auto* taps = std::get_if<Taps>(&form())) {
        return taps->values().size() <= soon_found || taps->values().size() > most_taps_with_roots;
    }
    if (const auto* repeated = std::get_if<Repeated>(&form())) {
        return repeated->filter.has_roots_at_hand();
    }
    if (const auto* computed = std::get_if<Computed>(&form())) {
        return computed->linear.has_roots_at_hand();
    }
    const auto* chain = std::get_if<Series>(&form());
    return chain == nullptr || std::ranges::all_of(chain->parts, [](const Filter& part) {
               return part.has_roots_at_hand();
           });
}

const Expected<Rational>& Filter::rational() const {
    constexpr double most_samples = 1 << 17;
    std::call_once(held_->asked_rational, [&] {
        if (finite_samples() <= most_samples) {
            held_->rational.emplace(rational_of(*this));
        } else {
            held_->rational.emplace(refuse(
                "",
                fmt::format("of an order of {:.0f}, too long to be written out", finite_samples()),
                fmt::format("that is done up to {:.0f}", most_samples)));
        }
    });
    return *held_->rational;
}

double Filter::finite_samples() const {
    return std::visit([](const auto& form) { return syntonon::finite_samples(form); }, form());
}

namespace {

struct AtOnce {
    double operator()(const Cascade& cascade) const {
        double all = 1;
        for (const Biquad& section : cascade.sections) {
            all *= section.b0;
        }
        return all;
    }
    double operator()(const AnalogCascade& cascade) const {
        double all = 1;
        for (const AnalogSection& section : cascade.sections) {
            all *= direct_gain(section);
        }
        return all;
    }
    double operator()(const Taps& taps) const {
        return taps.values().empty() ? 0 : taps.values().front();
    }
    double operator()(const Delay& delay) const { return delay.samples == 0 ? 1 : 0; }
    double operator()(const Gain& gain) const { return gain.factor; }
    double operator()(const Series& chain) const {
        double all = 1;
        for (const Filter& part : chain.parts) {
            all *= part.at_once();
        }
        return all;
    }
    double operator()(const ParallelSum& sum) const {
        double all = 0;
        for (const auto& branch : sum.branches) {
            all += branch.factor * branch.filter.at_once();
        }
        return all;
    }
    double operator()(const Loop& loop) const {
        return loop.forward.at_once() / (1 - gain_at_once(loop));
    }
    double operator()(const Repeated& repeated) const {
        return std::pow(repeated.filter.at_once(), static_cast<double>(repeated.count));
    }
    double operator()(const Computed& computed) const { return computed.linear.at_once(); }
    double operator()(const Oversampled& of) const { return syntonon::at_once(of); }
};

struct RipplingSamples {
    template <class Leaf>
    double operator()(const Leaf&) const {
        return 0;
    }
    double operator()(const Taps& taps) const { return finite_samples(taps); }
    double operator()(const ParallelSum& sum) const { return finite_samples(sum); }
    double operator()(const Loop& loop) const { return finite_samples(loop); }
    double operator()(const Repeated& repeated) const { return repeated.filter.rippling_samples(); }
    double operator()(const Computed& computed) const { return computed.linear.rippling_samples(); }
    double operator()(const Series& chain) const {
        double most = 0;
        for (const Filter& part : chain.parts) {
            most = std::max(most, part.rippling_samples());
        }
        return most;
    }
};

} // namespace

double Filter::rippling_samples() const {
    return std::visit(RipplingSamples(), static_cast<const AnyForm::variant&>(form()));
}

Expected<double> Filter::slowest_pole_radius(double sample_rate_hz) const {
    return std::visit(
        [&]<class Form>(const Form& form) -> Expected<double> {
            if constexpr (
                std::is_same_v<
                    Form,
                    Cascade> || std::is_same_v<Form, Loop> || std::is_same_v<Form, AnalogCascade>) {
                return roots().map([&](const Roots& found) {
                    return syntonon::slowest_pole_radius(found, sample_rate_hz);
                });
            } else if constexpr (requires {
                                     syntonon::slowest_pole_radius(form, sample_rate_hz);
                                 }) {
                return syntonon::slowest_pole_radius(form, sample_rate_hz);
            } else {
                return 0; // no poles
            }
        },
        form());
}

Expected<double> Filter::stability_margin(double sample_rate_hz) const {
    return slowest_pole_radius(sample_rate_hz).map([](double radius) { return 1 - radius; });
}

const Expected<Stability>& Filter::stability() const {
    std::call_once(held_->asked_stability, [&] { held_->stability.emplace(stability_of(*this)); });
    return *held_->stability;
}

bool Filter::is_stable() const {
    return stability() && stability()->is_stable();
}

void Filter::run(std::span<double> signal) const {
    std::visit([&](const auto& form) { syntonon::run(form, signal); }, form());
}

Values Filter::impulse_response(std::size_t length) const {
    Values signal(length, 0.0);
    if (length > 0) {
        signal[0] = 1;
    }
    linear_of(*this).run(signal);
    return signal;
}

double Filter::latency_samples() const {
    return std::visit([](const auto& form) { return syntonon::latency_samples(form); }, form());
}

Cost Filter::cost() const {
    return std::visit([](const auto& form) { return syntonon::cost(form); }, form());
}

namespace {

// Whether it says so of any form that is not made of others.
template <class OfLeaf>
bool any_leaf(const Filter& filter, const OfLeaf& of_leaf) {
    const auto of_filter = [&](const Filter& part) { return any_leaf(part, of_leaf); };
    return std::visit(
        [&]<class Form>(const Form& form) {
            if constexpr (std::is_same_v<Form, Series>) {
                return std::ranges::any_of(form.parts, of_filter);
            } else if constexpr (std::is_same_v<Form, ParallelSum>) {
                return std::ranges::any_of(form.branches, of_filter, &ParallelSum::Branch::filter);
            } else if constexpr (std::is_same_v<Form, Loop>) {
                return of_filter(form.forward) || of_filter(form.feedback);
            } else if constexpr (std::is_same_v<Form, Repeated>) {
                return of_filter(form.filter);
            } else {
                return of_leaf(form);
            }
        },
        static_cast<const AnyForm::variant&>(filter.form()));
}

} // namespace

bool Filter::is_analog() const {
    return any_leaf(*this,
                    []<class Leaf>(const Leaf&) { return std::is_same_v<Leaf, AnalogCascade>; });
}

bool Filter::is_mixed() const {
    return is_analog() && any_leaf(*this, []<class Leaf>(const Leaf& leaf) {
               if constexpr (std::is_same_v<Leaf, Cascade>) {
                   return !leaf.sections.empty(); // without any it is a wire in either
               } else {
                   return !std::is_same_v<Leaf, AnalogCascade> && !std::is_same_v<Leaf, Gain>;
               }
           });
}

double Filter::at_once() const {
    return std::visit(AtOnce(), static_cast<const AnyForm::variant&>(form()));
}

Expected<AnalogCascade> Filter::analog_sections() const {
    return analog_sections_of(form());
}

Expected<Cascade> Filter::sections() const {
    return sections_of(form());
}

std::size_t Filter::bytes() const {
    return sizeof(Held) + std::visit([](const auto& form) { return bytes_of(form); }, form());
}

} // namespace syntonon
