// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/stability_edges.h"

#include "core/study/designed_chain.h"

#include <algorithm>
#include <cmath>
#include <memory>

namespace syntonon {
namespace {

constexpr int places = 65;
constexpr double precision = 1e-9, smallest = 1e-12;

struct Place {
    double value;
    std::optional<double> margin;

    bool is_stable() const { return margin && *margin > 0; }
};

double place_between(const KnobRange& range, bool by_ratio, double part) {
    return by_ratio ? range.low * std::pow(range.high / range.low, part)
                    : range.low + (range.high - range.low) * part;
}

StabilityEdge halved(const MarginAt& margin, Place low, Place high) {
    const bool stable_below = low.is_stable();
    constexpr int most_halvings = 200;
    for (int i = 0; i < most_halvings; ++i) {
        const double size = std::max({std::abs(low.value), std::abs(high.value), smallest});
        if (high.value - low.value <= precision / 4 * size) {
            break;
        }
        const double middle = (low.value + high.value) / 2;
        const Place at{middle, margin(middle)};
        (at.is_stable() == stable_below ? low : high) = at;
    }
    return {(low.value + high.value) / 2, stable_below};
}

// The margin's lowest place between neighbours that are stable, or its highest between unstable
// ones, by the golden section; it ends where the other side is found.
Place turning_place(const MarginAt& margin, double low, double high, bool stable) {
    const double part = (std::sqrt(5.0) - 1) / 2;
    double a = high - part * (high - low), b = low + part * (high - low);
    Place at_a{a, margin(a)}, at_b{b, margin(b)};
    constexpr int steps = 40;
    for (int i = 0; i < steps && at_a.margin && at_b.margin && at_a.is_stable() == stable
                    && at_b.is_stable() == stable;
         ++i) {
        if ((*at_a.margin < *at_b.margin) == stable) {
            high = b;
            b = a;
            at_b = at_a;
            a = high - part * (high - low);
            at_a = {a, margin(a)};
        } else {
            low = a;
            a = b;
            at_a = at_b;
            b = low + part * (high - low);
            at_b = {b, margin(b)};
        }
    }
    return at_a.is_stable() == stable ? at_b : at_a;
}

// Windows that are narrower than the places are apart show by the margin's turning towards 0.
void add_windows(const MarginAt& margin, std::vector<Place>& all) {
    std::vector<Place> found;
    for (std::size_t i = 1; i + 1 < all.size(); ++i) {
        const Place &before = all[i - 1], &here = all[i], &after = all[i + 1];
        const bool stable = here.is_stable();
        if (!before.margin || !here.margin || !after.margin || before.is_stable() != stable
            || after.is_stable() != stable) {
            continue;
        }
        const double sign = stable ? 1 : -1;
        const bool turns = sign * *here.margin <= sign * *before.margin
                           && sign * *here.margin <= sign * *after.margin;
        const bool flat = *here.margin == *before.margin && *here.margin == *after.margin;
        if (turns && !flat) {
            const Place other = turning_place(margin, before.value, after.value, stable);
            if (other.margin && other.is_stable() != stable) {
                found.push_back(other);
            }
        }
    }
    all.insert(all.end(), found.begin(), found.end());
    std::ranges::sort(all, {}, &Place::value);
}

} // namespace

std::vector<StabilityEdge> stability_edges(const MarginAt& margin, const KnobRange& range,
                                           bool by_ratio) {
    const bool can_ratio = by_ratio && range.low > 0;
    std::vector<Place> all;
    for (int i = 0; i < places; ++i) {
        const double value = place_between(range, can_ratio, static_cast<double>(i) / (places - 1));
        all.push_back({value, margin(value)});
    }
    add_windows(margin, all);
    std::vector<StabilityEdge> edges;
    for (std::size_t i = 1; i < all.size(); ++i) {
        const bool known = all[i - 1].margin && all[i].margin;
        if (known && all[i - 1].is_stable() != all[i].is_stable()) {
            edges.push_back(halved(margin, all[i - 1], all[i]));
        }
    }
    return edges;
}

MarginAt margin_of_knob(const Chain& chain, std::string_view stage, std::string_view key,
                        const Brief& brief) {
    const auto top = std::ranges::find_if(
        chain, [&](const auto& s) { return s->id == stage || find_stage({*s}, stage) != nullptr; });
    if (top == chain.end()) {
        return [](double) { return std::optional<double>(); };
    }
    auto store = std::make_shared<DesignStore>(DesignStore::usual_bytes / 64);
    return [stage = std::string(stage), key = std::string(key), brief, store,
            alone = Chain{*top}](double value) -> std::optional<double> {
        Chain turned = alone;
        edit_stage(turned, stage, [&](Stage& s) { turn(s.spec, key, value); });
        edit_every_stage(turned, [](Stage& s) { s.enabled = true; });
        const DesignedChain made = design_chain(turned, brief, *store);
        if (!made.problems.empty() || !made.waits_for.empty()) {
            return std::nullopt;
        }
        if (const auto margin = made.filter.stability_margin(brief.sample_rate_hz)) {
            return *margin;
        }
        const auto& stability = made.filter.stability();
        return stability ? std::optional(stability->is_stable() ? 1.0 : -1.0) : std::nullopt;
    };
}

} // namespace syntonon
