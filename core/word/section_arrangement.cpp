// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/section_arrangement.h"

#include "core/word/network_paths.h"
#include "core/word/noise_places.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace syntonon {
namespace {

constexpr std::size_t few_sections = 6;

bool is_bare_gain(const Biquad& s) {
    return s.b1 == 0 && s.b2 == 0 && s.a1 == 0 && s.a2 == 0;
}

Biquad times(const Biquad& s, double gain) {
    return {s.b0 * gain, s.b1 * gain, s.b2 * gain, s.a1, s.a2};
}

// A section's response and the noise that it adds, by frequency: what the order is chosen by.
struct SectionSpectra {
    std::vector<double> power; // |H|^2 with the gain as given
    std::vector<double> noise; // of an error of power 1 in each of its sums
    double most_gain = 1;      // by which its numerator's numbers still fit
};

double most_gain_of(const Biquad& section, const WordFormat& format) {
    const auto made = structured(section, format.structure);
    if (!made) {
        return 1;
    }
    const Network& network = network_of(format.structure, made->real_poles);
    const double holds_most = greatest_of(coefficient_values(format.sections));
    double most = std::numeric_limits<double>::infinity();
    for (const std::size_t number : network.output_numbers) {
        const double limit = network.coefficients[number][0] == 'b'
                                 ? std::min(holds_most, format.b_below)
                                 : holds_most;
        most = std::min(most, 0.999 * limit / std::abs(made->values[number]));
    }
    return most;
}

SectionSpectra spectra_of(const Biquad& section, const WordFormat& format,
                          const SpectrumPlaces& places) {
    SectionSpectra spectra;
    spectra.most_gain = most_gain_of(section, format);
    auto held = structured(section, format.structure);
    const Structure structure = held ? format.structure : Structure::direct_form_1;
    held = held ? held : structured(section, structure);
    const NetworkPaths paths =
        network_paths(linear_network(network_of(structure, held->real_poles), held->values));
    for (const std::complex<double> z : places.z) {
        const double poles = power_at(paths.poles, z);
        spectra.power.push_back(power_at(paths.through, z) / poles);
        double noise = 0;
        for (const NetworkPolynomial& way : paths.to_output) {
            noise += power_at(way, z) / poles;
        }
        spectra.noise.push_back(noise);
    }
    return spectra;
}

// What an order comes to: its gains and its noise.
class Orders {
public:
    Orders(const Cascade& cascade, const WordFormat& format)
        : places_(spectrum_places(cascade, 256)), holds_(greatest_of(format.sections.data)) {
        for (const Biquad& section : cascade.sections) {
            sections_.push_back(spectra_of(section, format, places_));
        }
    }

    std::vector<double> gains_of(const std::vector<std::size_t>& order) const {
        std::vector<double> gains(order.size(), 1), power(places_.z.size(), 1);
        double product = 1, can_follow = 1; // what the sections after this one can make up for
        for (const std::size_t which : order) {
            can_follow *= sections_[which].most_gain;
        }
        for (std::size_t i = 0; i < order.size(); ++i) {
            const SectionSpectra& section = sections_[order[i]];
            double peak = 0;
            for (std::size_t k = 0; k < power.size(); ++k) {
                power[k] *= section.power[k];
                peak = std::max(peak, power[k]);
            }
            const bool is_last = i + 1 == order.size();
            const double wished =
                is_last || peak == 0 ? 1 / product : holds_ / std::sqrt(peak) / product;
            can_follow /= section.most_gain;
            const double least = 1 / (product * can_follow);
            gains[i] = is_last ? wished : std::min(std::max(wished, least), section.most_gain);
            product *= gains[i];
        }
        return gains;
    }

    double noise_of(const std::vector<std::size_t>& order) const {
        const std::vector<double> gains = gains_of(order);
        std::vector<double> noise(places_.z.size());
        for (std::size_t i = 0; i < order.size(); ++i) {
            const SectionSpectra& section = sections_[order[i]];
            const double gain = gains[i] * gains[i];
            for (std::size_t k = 0; k < noise.size(); ++k) {
                noise[k] = noise[k] * section.power[k] * gain + section.noise[k];
            }
        }
        double mean = 0;
        for (std::size_t k = 0; k < noise.size(); ++k) {
            mean += noise[k] * places_.weight[k];
        }
        // A last section that cannot bring the gain up would be no chain at all.
        const bool fits = order.empty() || gains.back() <= sections_[order.back()].most_gain;
        return fits ? mean : mean * 1e6;
    }

private:
    SpectrumPlaces places_;
    double holds_ = 1;
    std::vector<SectionSpectra> sections_;
};

using Order = std::vector<std::size_t>;

Order best_of_all(const Orders& orders, Order order) {
    Order best = order;
    double least = orders.noise_of(order);
    std::ranges::sort(order);
    do {
        const double noise = orders.noise_of(order);
        if (noise < least * (1 - 1e-9)) {
            least = noise;
            best = order;
        }
    } while (std::next_permutation(order.begin(), order.end()));
    return best;
}

Order exchanged_while_better(const Orders& orders, Order order) {
    double least = orders.noise_of(order);
    for (bool is_better = true; is_better;) {
        is_better = false;
        for (std::size_t i = 0; i < order.size(); ++i) {
            for (std::size_t k = i + 1; k < order.size(); ++k) {
                std::swap(order[i], order[k]);
                const double noise = orders.noise_of(order);
                if (noise < least * (1 - 1e-9)) {
                    least = noise;
                    is_better = true;
                } else {
                    std::swap(order[i], order[k]);
                }
            }
        }
    }
    return order;
}

} // namespace

SectionArrangement as_given(const Cascade& cascade) {
    SectionArrangement arrangement;
    arrangement.order.resize(cascade.sections.size());
    std::iota(arrangement.order.begin(), arrangement.order.end(), std::size_t{0});
    arrangement.gains.assign(cascade.sections.size(), 1);
    return arrangement;
}

Cascade arranged(const Cascade& cascade, const SectionArrangement& arrangement) {
    Cascade made;
    for (std::size_t i = 0; i < arrangement.order.size(); ++i) {
        made.sections.push_back(
            times(cascade.sections[arrangement.order[i]], arrangement.gains[i]));
    }
    return made;
}

Cascade without_bare_gains(const Cascade& cascade) {
    Cascade made;
    double gain = 1;
    for (const Biquad& section : cascade.sections) {
        if (is_bare_gain(section)) {
            gain *= section.b0;
        } else {
            made.sections.push_back(section);
        }
    }
    if (made.sections.empty()) {
        return {{Biquad{gain, 0, 0, 0, 0}}};
    }
    made.sections.front() = times(made.sections.front(), gain);
    return made;
}

SectionArrangement quiet_arrangement(const Cascade& cascade, const WordFormat& format) {
    SectionArrangement arrangement = as_given(cascade);
    if (!format.sections.is_fixed() || cascade.sections.empty()) {
        return arrangement;
    }
    const Orders orders(cascade, format);
    arrangement.order = cascade.sections.size() <= few_sections
                            ? best_of_all(orders, arrangement.order)
                            : exchanged_while_better(orders, arrangement.order);
    arrangement.gains = orders.gains_of(arrangement.order);
    return arrangement;
}

std::vector<double> peaks_along(const Cascade& cascade) {
    const SpectrumPlaces places = spectrum_places(cascade, 256);
    std::vector<double> power(places.z.size(), 1), peaks;
    for (const Biquad& s : cascade.sections) {
        const double numerator[] = {s.b0, s.b1, s.b2}, denominator[] = {1, s.a1, s.a2};
        double peak = 0;
        for (std::size_t k = 0; k < power.size(); ++k) {
            power[k] *= power_at(numerator, places.z[k]) / power_at(denominator, places.z[k]);
            peak = std::max(peak, power[k]);
        }
        peaks.push_back(std::sqrt(peak));
    }
    return peaks;
}

} // namespace syntonon
