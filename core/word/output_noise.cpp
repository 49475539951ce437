// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/output_noise.h"

#include "core/filter/taps.h"
#include "core/word/float_errors.h"
#include "core/word/network_paths.h"
#include "core/word/noise_places.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <numbers>
#include <numeric>
#include <random>

namespace syntonon {
namespace {

double as_dbfs(double power) {
    return 10 * std::log10(2 * power);
}

// Errors of a rounding.
struct Errors {
    double power = 0; // about their mean
    double mean = 0;

    void add(const Errors& other) {
        power += other.power;
        mean += other.mean;
    }
};

// Of values with so many bits more behind the point than the word that they become.
Errors of_fixed(int bits, double step, Rounding rounding) {
    if (bits <= 0) {
        return {};
    }
    const double finest = std::exp2(-static_cast<double>(bits));
    Errors errors{step * step / 12 * (1 - finest * finest)};
    const double of_halves = step / 2 * finest; // as far as they all go up
    if (rounding == Rounding::truncate) {
        errors.mean = -step / 2 * (1 - finest);
    } else if (rounding == Rounding::nearest) {
        errors.mean = of_halves;
    } else {
        errors.power += of_halves * of_halves;
    }
    return errors;
}

// Bits behind the point that a fixed word's value needs; nothing for 0.
std::optional<int> bits_needed(double value, const Word& word) {
    if (value == 0) {
        return std::nullopt;
    }
    const auto steps =
        static_cast<std::uint64_t>(std::llabs(std::llround(std::ldexp(value, word.fraction_bits))));
    return word.fraction_bits - std::countr_zero(steps);
}

double mean_over(const SpectrumPlaces& places, const std::vector<double>& spectrum) {
    double mean = 0;
    for (std::size_t i = 0; i < spectrum.size(); ++i) {
        mean += spectrum[i] * places.weight[i];
    }
    return mean;
}

// A source, and what comes of it, so far along the chain.
struct Path {
    NoiseSource source;
    Errors errors;
    std::vector<double> gain; // of power, at each place of the spectrum
    double gain_of_mean = 0;  // at 0 Hz, with its sign
};

// Of a section: its sums as they are rounded, and their paths.
struct RoundedSection {
    Network network; // step by step for floats
    NetworkPaths paths;
    const StructuredSection& section;
    const Arithmetic& how;
};

RoundedSection rounded_section(const StructuredSection& section, const WordChain& chain) {
    const Network& plain = network_of(chain.structure, section.real_poles);
    Network network = chain.section_words.is_fixed() ? plain : step_by_step(plain);
    NetworkPaths paths = network_paths(linear_network(network, section.values));
    return {std::move(network), std::move(paths), section, chain.section_words};
}

// Long enough for the slowest sections that there are to come to rest.
std::vector<double> white_noise(double level_dbfs) {
    std::mt19937 random(1);
    const double reach = std::sqrt(1.5 * std::pow(10, level_dbfs / 10));
    std::vector<double> signal(1 << 15);
    for (double& x : signal) { // the library's distributions differ from one library to the next
        x = reach * (static_cast<double>(random()) / 2147483648.0 - 1);
    }
    return signal;
}

double mean_power(std::span<const double> signal) {
    double sum = 0;
    for (const double x : signal) {
        sum += x * x;
    }
    return sum / static_cast<double>(std::max(signal.size(), std::size_t{1}));
}

double value_at_1(const NetworkPolynomial& polynomial) {
    return std::accumulate(polynomial.begin(), polynomial.end(), 0.0);
}

// Bits behind the point that a sum has before it is rounded to the states' word; nothing where it
// is 0.
std::optional<int> bits_of_sum(const RoundedSection& s, const NetworkSum& sum,
                               Errors& of_products) {
    const Word numbers = coefficient_values(s.how);
    std::optional<int> finest;
    for (const NetworkProduct& p : sum.products) {
        const Word& word = carries_input(p.signal, s.network) ? s.how.data : s.how.state;
        int bits = word.fraction_bits - (p.doubled ? 1 : 0);
        if (p.coefficient >= 0) {
            const auto own =
                bits_needed(s.section.values[static_cast<std::size_t>(p.coefficient)], numbers);
            if (!own) {
                continue;
            }
            bits += *own;
        }
        const int held = s.how.accumulator.fraction_bits;
        of_products.add(of_fixed(bits - held, step_of(s.how.accumulator), s.how.rounding));
        finest = std::max(finest.value_or(bits), std::min(bits, held));
    }
    return finest;
}

// The errors of each sum and, last, of the output on its way into the data's word.
std::vector<Errors> fixed_errors(const RoundedSection& s) {
    std::vector<Errors> all;
    int of_output = s.how.state.fraction_bits;
    for (const NetworkSum& sum : s.network.sums) {
        Errors errors;
        const auto bits = bits_of_sum(s, sum, errors);
        if (bits) {
            errors.add(
                of_fixed(*bits - s.how.state.fraction_bits, step_of(s.how.state), s.how.rounding));
        }
        if (static_cast<int>(all.size()) == s.network.output) {
            of_output = std::min(of_output, bits.value_or(s.how.data.fraction_bits));
        }
        all.push_back(errors);
    }
    all.push_back(
        of_fixed(of_output - s.how.data.fraction_bits, step_of(s.how.data), s.how.rounding));
    return all;
}

// The same for floats, of the signal as it comes in; it becomes what goes out.
std::vector<Errors> errors_in_floats(const RoundedSection& s, std::span<double> signal) {
    const FloatErrors found = float_errors(s.network, s.section.values, s.how, signal);
    std::vector<Errors> all;
    for (const double power : found.of_sums) {
        all.push_back({power});
    }
    all.push_back({found.of_output});
    return all;
}

// What is on its way goes through the section.
void pass_through(const RoundedSection& s, const SpectrumPlaces& places, std::vector<Path>& paths) {
    const double at_0 = value_at_1(s.paths.through) / value_at_1(s.paths.poles);
    for (std::size_t i = 0; i < places.z.size(); ++i) {
        const std::complex<double> z = places.z[i];
        const double gain = power_at(s.paths.through, z) / power_at(s.paths.poles, z);
        for (Path& path : paths) {
            path.gain[i] *= gain;
        }
    }
    for (Path& path : paths) {
        path.gain_of_mean *= at_0;
    }
}

std::vector<double> gains(const NetworkPolynomial& path, const NetworkPolynomial& poles,
                          const SpectrumPlaces& places) {
    std::vector<double> gain;
    gain.reserve(places.z.size());
    for (const std::complex<double> z : places.z) {
        gain.push_back(power_at(path, z) / power_at(poles, z));
    }
    return gain;
}

// A signal as another one so many samples before: a state as what it was taken from.
struct Earlier {
    NetworkSignal signal;
    int samples = 0;
};
Earlier origin_of(NetworkSignal signal, const Network& network) {
    int samples = 0;
    while (signal.from == NetworkSignal::From::state && samples < 4) {
        signal = network.next[static_cast<std::size_t>(signal.index)];
        ++samples;
    }
    return {signal, samples};
}

// Errors of products step by step are the same where the same signal, now or some samples before,
// is multiplied by the same number or one twice as large: a peak's b1 and a1, a high-pass's b0 and
// b2.
struct InCommon {
    double ratio = 0; // the second's is the first's times that; 0: nothing in common
    int later = 0;    // by so many samples; negative: earlier
};
InCommon in_common(const RoundedSection& s, const NetworkSum& first, const NetworkSum& second) {
    if (first.products.size() != 1 || second.products.size() != 1) {
        return {};
    }
    const NetworkProduct &one = first.products[0], &other = second.products[0];
    if (one.coefficient < 0 || other.coefficient < 0) {
        return {};
    }
    const Earlier from = origin_of(one.signal, s.network), to = origin_of(other.signal, s.network);
    if (!(from.signal == to.signal)) {
        return {};
    }
    const auto factor = [&](const NetworkProduct& p) {
        const double value = s.section.values[static_cast<std::size_t>(p.coefficient)];
        return p.subtracted ? -value : value;
    };
    int exponent = 0;
    const double ratio = factor(other) / factor(one);
    if (std::abs(std::frexp(ratio, &exponent)) != 0.5) {
        return {};
    }
    return {ratio, to.samples - from.samples};
}

// first + ratio * second, that later, but for whole samples.
NetworkPolynomial joined(NetworkPolynomial first, NetworkPolynomial second,
                         const InCommon& common) {
    (common.later > 0 ? first : second)
        .resize(first.size() + static_cast<std::size_t>(std::abs(common.later)));
    for (NetworkPolynomial* each : {&first, &second}) { // the shorter one at the lower powers
        each->insert(each->begin(), std::max(first.size(), second.size()) - each->size(), 0.0);
    }
    for (std::size_t i = 0; i < first.size(); ++i) {
        first[i] += common.ratio * second[i];
    }
    return first;
}

// Each sum's way to the output; what errors have in common goes the first one's, and the others'
// are 0.
std::vector<NetworkPolynomial> ways_to_output(const RoundedSection& s) {
    std::vector<NetworkPolynomial> ways = s.paths.to_output;
    if (s.how.is_fixed()) {
        return ways;
    }
    for (std::size_t j = 1; j < ways.size(); ++j) {
        for (std::size_t k = 0; k < j; ++k) {
            const InCommon common = in_common(s, s.network.sums[k], s.network.sums[j]);
            if (common.ratio != 0) {
                ways[k] = joined(std::move(ways[k]), std::move(ways[j]), common);
                ways[j] = {0};
            }
        }
    }
    return ways;
}

void add_sources(const RoundedSection& s, std::size_t section, const std::vector<Errors>& errors,
                 const SpectrumPlaces& places, std::vector<Path>& paths) {
    const std::vector<NetworkPolynomial> ways = ways_to_output(s);
    std::vector<Path> own;
    for (std::size_t j = 0; j < ways.size(); ++j) {
        if (errors[j].power > 0 || errors[j].mean != 0) {
            own.push_back({{section, s.network.sums[j].name, errors[j].power},
                           errors[j],
                           gains(ways[j], s.paths.poles, places),
                           value_at_1(ways[j]) / value_at_1(s.paths.poles)});
        }
    }
    pass_through(s, places, paths);
    if (const Errors& out = errors.back(); out.power > 0 || out.mean != 0) {
        own.push_back(
            {{section, "out", out.power}, out, std::vector<double>(places.z.size(), 1), 1});
    }
    paths.insert(paths.end(), std::make_move_iterator(own.begin()),
                 std::make_move_iterator(own.end()));
}

// As if each product and each sum of those so far were of logarithmically even size: 0.180 * 4^-p
// of its power for p bits, 0.180 being 1 / (8 ln 2) (C. J. Weinstein and A. V. Oppenheim, A
// comparison of roundoff noise in floating point and fixed point digital filter realizations, Proc.
// IEEE 57, 1969).
Errors of_floating_taps(const WordChain& chain, std::span<const double> signal) {
    const int to_sum = chain.tap_words.accumulator.kind == WordKind::float32 ? 24 : 53;
    const int to_data = chain.tap_words.data.kind == WordKind::float32 ? 24 : 53;
    double products = 0, so_far = 0;
    for (const double tap : chain.taps) {
        so_far += tap * tap;
        products += tap * tap + so_far;
    }
    double power = products * std::exp2(-2.0 * to_sum);
    if (to_data < to_sum) {
        power += so_far * std::exp2(-2.0 * to_data);
    }
    return {power * mean_power(signal) / (8 * std::numbers::ln2)};
}

// An FIR's sums are one source: what it loses of its sum, and of its products on the way in.
Errors of_taps(const WordChain& chain, std::span<const double> signal) {
    const Arithmetic& how = chain.tap_words;
    if (!how.is_fixed()) {
        return of_floating_taps(chain, signal);
    }
    const Word numbers = coefficient_values(how);
    Errors errors;
    std::optional<int> finest;
    for (const double tap : chain.taps) {
        if (const auto own = bits_needed(tap, numbers)) {
            const int bits = how.data.fraction_bits + *own, held = how.accumulator.fraction_bits;
            errors.add(of_fixed(bits - held, step_of(how.accumulator), how.rounding));
            finest = std::max(finest.value_or(bits), std::min(bits, held));
        }
    }
    if (finest) {
        errors.add(of_fixed(*finest - how.data.fraction_bits, step_of(how.data), how.rounding));
    }
    return errors;
}

void add_taps(const WordChain& chain, const Errors& errors, const SpectrumPlaces& places,
              std::vector<Path>& paths) {
    std::vector<double> hz;
    for (const double angle : places.rad_per_sample) {
        hz.push_back(angle / (2 * std::numbers::pi));
    }
    const auto grid = FrequencyGrid::from_frequencies(std::move(hz), Axis(1));
    const std::vector<double> level = Filter(Taps(chain.taps)).magnitude_db(*grid);
    const double at_0 = std::accumulate(chain.taps.begin(), chain.taps.end(), 0.0);
    for (Path& path : paths) {
        for (std::size_t i = 0; i < level.size(); ++i) {
            path.gain[i] *= std::pow(10, level[i] / 10);
        }
        path.gain_of_mean *= at_0;
    }
    if (errors.power > 0 || errors.mean != 0) {
        paths.push_back({{chain.sections.size(), "y", errors.power},
                         errors,
                         std::vector<double>(level.size(), 1),
                         1});
    }
}

OutputNoise in_all(const std::vector<Path>& paths, const SpectrumPlaces& places, const Word& data,
                   double sample_rate_hz) {
    OutputNoise noise;
    std::vector<double> density(places.z.size());
    for (const Path& path : paths) {
        const double power = path.errors.power * mean_over(places, path.gain);
        noise.power += power;
        noise.mean += path.errors.mean * path.gain_of_mean;
        noise.sources.push_back(path.source);
        noise.sources.back().level_dbfs = as_dbfs(power);
        for (std::size_t i = 0; i < density.size(); ++i) {
            density[i] += path.errors.power * path.gain[i];
        }
    }
    std::ranges::stable_sort(noise.sources, std::greater<>(), &NoiseSource::level_dbfs);
    noise.level_dbfs = as_dbfs(noise.power);
    const double step = step_of(data);
    noise.drowned_bits = noise.power > 0 ? std::log2(std::sqrt(12 * noise.power) / step)
                                         : -std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < density.size(); ++i) {
        noise.frequency_hz.push_back(places.rad_per_sample[i] / (2 * std::numbers::pi)
                                     * sample_rate_hz);
        noise.density_db.push_back(as_dbfs(density[i] / (sample_rate_hz / 2)));
    }
    return noise;
}

} // namespace

Expected<OutputNoise> output_noise(const WordChain& chain, double sample_rate_hz,
                                   double signal_dbfs) {
    const Cascade cascade = cascade_of(chain);
    if (const Filter filter(cascade); !filter.is_stable()) {
        return refuse("", "the chain is not stable in these words, and its errors grow without end",
                      "choose more bits, another structure or the searched words");
    }
    const SpectrumPlaces places = spectrum_places(
        cascade, std::clamp(4 * chain.taps.size(), std::size_t{1024}, std::size_t{1} << 16));
    std::vector<double> signal =
        chain.section_words.is_fixed() ? std::vector<double>() : white_noise(signal_dbfs);
    std::vector<Path> paths;
    for (std::size_t i = 0; i < chain.sections.size(); ++i) {
        const RoundedSection section = rounded_section(chain.sections[i], chain);
        add_sources(section, i,
                    section.how.is_fixed() ? fixed_errors(section)
                                           : errors_in_floats(section, signal),
                    places, paths);
    }
    if (!chain.taps.empty()) {
        add_taps(chain, of_taps(chain, signal), places, paths);
    }
    return in_all(paths, places,
                  chain.taps.empty() ? chain.section_words.data : chain.tap_words.data,
                  sample_rate_hz);
}

} // namespace syntonon
