// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/stability.h"

#include "core/base/units.h"
#include "core/filter/form.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double rate = 48000; // any: only the frequency by the sample rate matters
constexpr double half_rate = rate / 2;
constexpr double marginal = 1e-9; // of 1: L = 1 within this is on the circle

// L at one frequency. The level is 20 log10 |L|, the phase unwrapped from 0 Hz on.
struct Node {
    double hz = 0;
    Complex l;
    double level_db = 0, phase_rad = 0;
    double level_slope = 0, phase_slope = 0; // by rad/sample
};

class OpenLoop {
public:
    explicit OpenLoop(const Loop& loop)
        : round_(series(std::array{loop.forward, loop.feedback})), prober_(round_.prober()),
          factor_(loop.factor) {}

    // Ascending, from 0 to half the rate; between neighbours level and phase go one way only and
    // the level does not cross 0 dB.
    std::vector<Node> nodes() const {
        auto hz = round_.telling_hz({low_hz, half_rate, ratio, rate});
        for (double f = low_hz; f < half_rate; f *= ratio) {
            hz.push_back(f);
        }
        hz.push_back(0);
        hz.push_back(half_rate);
        std::vector<Node> found = at(std::move(hz));
        std::vector<double> turning;
        for (std::size_t i = 1; i < found.size(); ++i) {
            add_turning(found[i - 1], found[i], &Node::level_slope, turning);
            add_turning(found[i - 1], found[i], &Node::phase_slope, turning);
        }
        found = with(std::move(found), turning);
        std::vector<double> crossing;
        for (std::size_t i = 1; i < found.size(); ++i) {
            if ((found[i - 1].level_db < 0) != (found[i].level_db < 0)) {
                crossing.push_back(between(found[i - 1].hz, found[i].hz, [&](const Node& n) {
                    return (n.level_db < 0) == (found[i - 1].level_db < 0);
                }));
            }
        }
        return with(std::move(found), crossing);
    }

    // Where the unwrapped phase is `phase_rad` between two neighbours.
    Node at_phase(const Node& from, const Node& to, double phase_rad) const {
        double low = from.hz, high = to.hz, phase = from.phase_rad;
        Node middle = from;
        for (int i = 0; i < halvings; ++i) {
            middle = at(low / 2 + high / 2);
            // Followed from the low end, which is near enough after a few halvings; at first the
            // expected phase says which turn is meant.
            const double part = (middle.hz - from.hz) / (to.hz - from.hz);
            const double expected =
                i < 3 ? from.phase_rad + part * (to.phase_rad - from.phase_rad) : phase;
            middle.phase_rad = expected + std::remainder(middle.phase_rad - expected, 2 * pi);
            const bool is_before = (middle.phase_rad < phase_rad) == (from.phase_rad < phase_rad);
            (is_before ? low : high) = middle.hz;
            phase = is_before ? middle.phase_rad : phase;
        }
        return middle;
    }

private:
    static constexpr double low_hz = half_rate * 1e-6, ratio = 1.05;
    static constexpr int halvings = 60;

    Node at(double hz) const {
        const FilterValue value = prober_->value(circle_point(hz, rate));
        Node node;
        node.hz = hz;
        node.l = factor_ * value.h;
        node.level_db = db_from_ratio(std::abs(node.l));
        node.phase_rad = std::arg(node.l);
        const Complex slope = value.slope / value.h;
        node.level_slope = slope.real();
        node.phase_slope = slope.imag();
        return node;
    }
    std::vector<Node> at(std::vector<double> hz) const {
        const auto grid = FrequencyGrid::from_frequencies(std::move(hz), rate);
        const Response response = round_.response(*grid);
        std::vector<Node> found;
        for (std::size_t i = 0; i < grid->size(); ++i) {
            found.push_back(at(grid->frequency_hz()[i]));
            found.back().phase_rad = response.phase_rad[i] + (factor_ < 0 ? pi : 0);
        }
        return found;
    }
    std::vector<Node> with(std::vector<Node> found, const std::vector<double>& more) const {
        std::vector<Node> all;
        std::ranges::merge(found, more.empty() ? std::vector<Node>{} : at(more),
                           std::back_inserter(all), {}, &Node::hz, &Node::hz);
        return all;
    }
    template <class IsBefore>
    double between(double low, double high, IsBefore is_before) const {
        for (int i = 0; i < halvings; ++i) {
            const double middle = low / 2 + high / 2;
            (is_before(at(middle)) ? low : high) = middle;
        }
        return high;
    }
    // Where a slope changes its sign between two neighbours, there is a turning point.
    void add_turning(const Node& from, const Node& to, double Node::*slope,
                     std::vector<double>& out) const {
        // Round an all-pass the level's slope is but rounding.
        const auto is_there = [&](const Node& n) {
            return std::abs(n.*slope) > 1e-12 * (std::abs(n.level_slope) + std::abs(n.phase_slope));
        };
        if (from.*slope * (to.*slope) < 0 && is_there(from) && is_there(to)) {
            out.push_back(between(from.hz, to.hz, [&](const Node& n) {
                return (n.*slope < 0) == (from.*slope < 0);
            }));
        }
    }

    Filter round_;
    std::shared_ptr<const Prober> prober_;
    double factor_;
};

// By how much the argument of 1 - L grows from one node to the next.
double growth(const Node& from, const Node& to) {
    const bool is_small = std::max(from.level_db, to.level_db) < 1e-6;
    return is_small ? std::arg(1.0 - to.l) - std::arg(1.0 - from.l)
                    : to.phase_rad - from.phase_rad + std::arg(1.0 - 1.0 / to.l)
                          - std::arg(1.0 - 1.0 / from.l);
}

class Margins {
public:
    explicit Margins(const OpenLoop& open) : open_(open) {}

    void take(const std::vector<Node>& nodes) {
        for (const Node* end : {&nodes.front(), &nodes.back()}) {
            if (end->l.real() > 0) { // real there
                take_critical(end->hz, end->l.real());
            }
        }
        for (std::size_t i = 0; i < nodes.size(); ++i) {
            if (std::abs(nodes[i].level_db) < 1e-6) {
                take_crossing(nodes[i]);
            }
            if (i > 0) {
                take_between(nodes[i - 1], nodes[i]);
            }
        }
    }
    const LoopMargin& margin() const { return margin_; }
    double largest() const { return largest_; } // L at a critical phase
    double largest_turns() const { return largest_turns_; }

private:
    void take_crossing(const Node& node) {
        const double off = std::abs(std::remainder(node.phase_rad, 2 * pi));
        if (!margin_.phase_rad || off < *margin_.phase_rad) {
            margin_.phase_rad = off;
            margin_.phase_turns = node.hz / rate;
        }
    }
    void take_critical(double hz, double l) {
        if (l <= 1 && 1 / l < margin_.most_gain) {
            margin_.most_gain = 1 / l;
            margin_.most_gain_turns = hz / rate;
        }
        if (l > 1 && 1 / l > margin_.least_gain) {
            margin_.least_gain = 1 / l;
            margin_.least_gain_turns = hz / rate;
        }
        if (l > largest_) {
            largest_ = l;
            largest_turns_ = hz / rate;
        }
    }
    // Of all critical phases between two nodes the first and the last have the largest and the
    // smallest L; only what could be tighter than what there is is looked for.
    void take_between(const Node& from, const Node& to) {
        const double low = std::min(from.phase_rad, to.phase_rad) / (2 * pi);
        const double high = std::max(from.phase_rad, to.phase_rad) / (2 * pi);
        const double first = std::ceil(low), last = std::floor(high);
        if (!(first <= last)) {
            return;
        }
        const double most = std::max(std::abs(from.l), std::abs(to.l));
        const double least = std::min(std::abs(from.l), std::abs(to.l));
        // Round an all-pass L is of one size, and one critical phase is as good as another.
        constexpr double hardly = 1e-12;
        const bool is_largest = most > largest_ * (1 + hardly);
        const bool rises = least <= 1 && 1 / std::min(most, 1.0) < margin_.most_gain * (1 - hardly);
        const bool falls = most > 1 && 1 / std::max(least, 1.0) > margin_.least_gain * (1 + hardly);
        if (!is_largest && !rises && !falls) {
            return;
        }
        for (const double turn : {first, last}) {
            const Node found = open_.at_phase(from, to, 2 * pi * turn);
            take_critical(found.hz, std::abs(found.l));
            if (first == last) {
                break;
            }
        }
    }

    const OpenLoop& open_;
    LoopMargin margin_;
    double largest_ = 0, largest_turns_ = 0;
};

// The tighter one of two loops in one filter.
void take_tighter(std::optional<LoopMargin>& all, const std::optional<LoopMargin>& one) {
    if (one && (!all || one->most_gain < all->most_gain)) {
        all = one;
    }
}

// What stands beside or behind what was looked at so far.
void add(Expected<Stability>& all, const Filter& part) {
    const auto& one = part.stability();
    if (!all || !one) {
        all = !all ? all : one;
        return;
    }
    all->poles_outside += one->poles_outside;
    take_tighter(all->margin, one->margin);
}

// The bilinear image has the same gains and phases round the loop, elsewhere.
Expected<Stability> stability_of_analog(const Filter& filter) {
    constexpr double quarter_rate_hz = 1000; // of the image
    auto found = bilinear_image(filter, rad_per_s_from_hz(quarter_rate_hz)).stability();
    if (found && found->margin) {
        for (double* turns : {&found->margin->most_gain_turns, &found->margin->least_gain_turns,
                              &found->margin->phase_turns}) {
            *turns = quarter_rate_hz * std::tan(pi * *turns);
        }
    }
    return found;
}

struct StabilityOf {
    Expected<Stability> operator()(const Cascade&) const {
        return Stability{unstable_poles(*filter.roots()), {}};
    }
    Expected<Stability> operator()(const AnalogCascade&) const {
        return Stability{unstable_poles(*filter.roots()), {}};
    }
    Expected<Stability> operator()(const Taps&) const { return Stability{}; }
    Expected<Stability> operator()(const Delay&) const { return Stability{}; }
    Expected<Stability> operator()(const Gain&) const { return Stability{}; }
    Expected<Stability> operator()(const Computed& computed) const {
        return computed.way->stays_within_bounds() ? Stability{} : computed.linear.stability();
    }
    Expected<Stability> operator()(const Oversampled& of) const {
        return syntonon::poles_outside(of).map([](int count) { return Stability{count, {}}; });
    }
    Expected<Stability> operator()(const Series& chain) const {
        Expected<Stability> all;
        for (const Filter& part : chain.parts) {
            add(all, part);
        }
        return all;
    }
    Expected<Stability> operator()(const ParallelSum& sum) const {
        Expected<Stability> all;
        for (const auto& branch : sum.branches) {
            add(all, branch.filter);
        }
        return all;
    }
    Expected<Stability> operator()(const Repeated& repeated) const {
        return repeated.filter.stability();
    }
    Expected<Stability> operator()(const Loop& loop) const {
        return filter.is_analog() ? stability_of_analog(filter) : stability_of(loop);
    }

    const Filter& filter;
};

} // namespace

Expected<Stability> stability_of(const Loop& loop) {
    Expected<Stability> parts;
    add(parts, loop.forward);
    add(parts, loop.feedback);
    if (!parts || loop.factor == 0) {
        return parts;
    }
    const OpenLoop open(loop);
    const std::vector<Node> nodes = open.nodes();
    Margins margins(open);
    margins.take(nodes);
    Stability found;
    found.margin = margins.margin();
    double growth_rad = 0;
    bool is_marginal = false;
    for (std::size_t i = 0; i < nodes.size(); ++i) {
        is_marginal = is_marginal || std::abs(1.0 - nodes[i].l) < marginal;
        growth_rad += i > 0 ? growth(nodes[i - 1], nodes[i]) : 0;
    }
    // Poles outside of the closed loop: those of the open one, less the turns of 1 - L by half the
    // circle.
    const double turns = -growth_rad / pi;
    if (!std::isfinite(turns) || (!is_marginal && std::abs(turns - std::round(turns)) > 0.1)) {
        return refuse("", "what goes round the loop turns too often to be followed",
                      "shorten what is inside, or open the loop");
    }
    found.poles_outside =
        std::max(parts->poles_outside + static_cast<int>(std::lround(is_marginal ? 1 : turns)),
                 is_marginal ? 1 : 0);
    if (!found.is_stable()) {
        found.margin->most_gain = 1 / std::max(margins.largest(), 1.0);
        found.margin->most_gain_turns = margins.largest_turns();
    }
    if (parts->is_stable()) { // else it is this loop that holds what is in it
        take_tighter(found.margin, parts->margin);
    }
    return found;
}

Expected<FactorRange> stable_factors(const Loop& given) {
    const Loop loop = is_analog(given)
                          ? std::get<Loop>(bilinear_image(given, rad_per_s_from_hz(1000)).form())
                          : given;
    constexpr double hardly = 1e-9; // so little that nothing has changed yet
    FactorRange range;
    for (const double sign : {-1.0, 1.0}) {
        const auto found = stability_of(Loop{loop.forward, sign * hardly, loop.feedback});
        if (!found) {
            return tl::unexpected(found.error());
        }
        if (!found->is_stable()) {
            return refuse("", "what stands in the loop is unstable by itself", "mend that first");
        }
        (sign < 0 ? range.low : range.high) = sign * hardly * found->margin->most_gain;
    }
    return range;
}

Expected<Stability> stability_of(const Filter& filter) {
    return std::visit(StabilityOf{filter}, static_cast<const AnyForm::variant&>(filter.form()));
}

} // namespace syntonon
