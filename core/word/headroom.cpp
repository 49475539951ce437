// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/headroom.h"

#include "core/filter/taps.h"
#include "core/word/network_paths.h"
#include "core/word/noise_places.h"
#include "core/word/section_in_words.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

constexpr std::size_t longest_answer = std::size_t{1} << 18;

double room_db(double holds, double level) {
    return level > 0 ? 20 * std::log10(holds / level) : std::numeric_limits<double>::infinity();
}

// Until its slowest pole has fallen by 120 dB.
std::size_t answer_length(const Cascade& cascade, std::size_t taps) {
    const double radius = Filter(cascade).slowest_pole_radius().value_or(0);
    const double samples = radius > 0 ? std::log(1e-6) / std::log(radius) : 0;
    const double own = 4.0 * static_cast<double>(cascade.sections.size()) + 64;
    return static_cast<std::size_t>(std::min(samples + own, static_cast<double>(longest_answer)))
           + taps;
}

// Greatest gain and mean power of what is on its way and then goes through the path.
struct Gains {
    double greatest = 0, mean = 0;
};
Gains gains_of(const SpectrumPlaces& places, const std::vector<double>& so_far,
               const NetworkPolynomial& path, const NetworkPolynomial& poles) {
    Gains gains;
    for (std::size_t i = 0; i < places.z.size(); ++i) {
        const double power = so_far[i] * power_at(path, places.z[i]) / power_at(poles, places.z[i]);
        gains.greatest = std::max(gains.greatest, power);
        gains.mean += power * places.weight[i];
    }
    return {std::sqrt(gains.greatest), std::sqrt(gains.mean)};
}

// The sums of the magnitudes of each signal in the section as the impulse goes through; it becomes
// the section's output.
std::vector<double> magnitudes(const LinearNetwork& network, std::vector<double>& impulse) {
    std::vector<double> sums(network.sums.size());
    std::array<double, most_network_states> states{}, next{};
    const auto value = [&](const LinearSignal& signal, double x) {
        double sum = signal.input * x;
        for (std::size_t i = 0; i < network.states; ++i) {
            sum += signal.states[i] * states[i];
        }
        return sum;
    };
    for (double& x : impulse) {
        for (std::size_t j = 0; j < sums.size(); ++j) {
            sums[j] += std::abs(value(network.sums[j], x));
        }
        for (std::size_t i = 0; i < network.states; ++i) {
            next[i] = value(network.next[i], x);
        }
        x = value(network.output, x);
        states = next;
    }
    return sums;
}

double sum_of_magnitudes(const std::vector<double>& values) {
    double sum = 0;
    for (const double value : values) {
        sum += std::abs(value);
    }
    return sum;
}

class Levels {
public:
    explicit Levels(const WordChain& chain)
        : chain_(chain), places_(spectrum_places(cascade_of(chain))),
          so_far_(places_.z.size(), 1.0),
          impulse_(answer_length(cascade_of(chain), chain.taps.size())) {
        impulse_[0] = 1;
    }

    void add_section(std::size_t index) {
        const StructuredSection& section = chain_.sections[index];
        const Network& network = network_of(chain_.structure, section.real_poles);
        const LinearNetwork linear = linear_network(network, section.values);
        const NetworkPaths paths = network_paths(linear);
        const std::vector<double> most = magnitudes(linear, impulse_);
        const Arithmetic& how = chain_.section_words;
        const double holds = std::min(greatest_of(how.state), greatest_of(how.accumulator));
        for (std::size_t j = 0; j < network.sums.size(); ++j) {
            const Gains gains = gains_of(places_, so_far_, paths.to_sums[j], paths.poles);
            add({index, network.sums[j].name, most[j], gains.greatest, gains.mean, holds});
        }
        const Gains out = gains_of(places_, so_far_, paths.through, paths.poles);
        add({index, "out", sum_of_magnitudes(impulse_), out.greatest, out.mean,
             greatest_of(how.data)});
        for (std::size_t i = 0; i < so_far_.size(); ++i) {
            so_far_[i] *=
                power_at(paths.through, places_.z[i]) / power_at(paths.poles, places_.z[i]);
        }
    }

    void add_taps() {
        Filter(Taps(chain_.taps)).run(impulse_);
        const Filter all = filter_of(chain_);
        const Axis axis(1);
        std::vector<double> hz = all.telling_hz({1e-6, 0.5, 1.01, axis});
        const auto grid = FrequencyGrid::from_frequencies(std::move(hz), axis);
        double greatest_db = -std::numeric_limits<double>::infinity();
        for (const double level : all.magnitude_db(*grid)) {
            greatest_db = std::max(greatest_db, level);
        }
        double energy = 0;
        for (const double value : impulse_) {
            energy += value * value;
        }
        add({chain_.sections.size(), "y", sum_of_magnitudes(impulse_),
             std::pow(10, greatest_db / 20), std::sqrt(energy),
             std::min(greatest_of(chain_.tap_words.data),
                      greatest_of(chain_.tap_words.accumulator))});
    }

    std::vector<NodeLevel> levels;

private:
    void add(NodeLevel level) {
        if (!chain_.section_words.is_fixed()) {
            level.holds = std::numeric_limits<double>::infinity();
        }
        levels.push_back(level);
    }

    const WordChain& chain_;
    SpectrumPlaces places_;
    std::vector<double> so_far_; // the power that reaches the section, by frequency
    std::vector<double> impulse_;
};

} // namespace

double NodeLevel::room_for_any_db() const {
    return room_db(holds, most);
}
double NodeLevel::room_for_tone_db() const {
    return room_db(holds, tone);
}
double NodeLevel::room_for_noise_db() const {
    return room_db(holds, noise);
}

Expected<std::vector<NodeLevel>> node_levels(const WordChain& chain) {
    if (!Filter(cascade_of(chain)).is_stable()) {
        return refuse("",
                      "the chain is not stable in these words, and its signals grow without end",
                      "choose more bits, another structure or the searched words");
    }
    Levels levels(chain);
    for (std::size_t i = 0; i < chain.sections.size(); ++i) {
        levels.add_section(i);
    }
    if (!chain.taps.empty()) {
        levels.add_taps();
    }
    return std::move(levels.levels);
}

const NodeLevel* tightest(const std::vector<NodeLevel>& levels) {
    const auto found = std::ranges::min_element(
        levels, std::less<>(), [](const NodeLevel& level) { return level.room_for_tone_db(); });
    return found == levels.end() ? nullptr : &*found;
}

} // namespace syntonon
