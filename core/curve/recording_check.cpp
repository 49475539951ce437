// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/recording_check.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/curve/decay.h"
#include "core/curve/gate.h"
#include "core/math/fft.h"
#include "core/math/median.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace syntonon {
namespace {

struct Point {
    double x, y;
};

// The median of the slopes of all pairs (P. K. Sen, Estimates of the regression coefficient based
// on Kendall's tau, J. Am. Stat. Assoc. 63, 1968): what a few wild points cannot turn.
double slope_of(const std::vector<Point>& points) {
    std::vector<double> slopes;
    for (auto a = points.begin(); a != points.end(); ++a) {
        for (auto b = std::next(a); b != points.end(); ++b) {
            if (b->x != a->x) {
                slopes.push_back((b->y - a->y) / (b->x - a->x));
            }
        }
    }
    return median_of(std::move(slopes));
}

double middle_of(std::span<const Point> points) {
    std::vector<double> y;
    std::ranges::transform(points, std::back_inserter(y), &Point::y);
    return median_of(std::move(y));
}

// The distance from what `expected` says that four of five keep.
template <class Expected>
double spread_about(std::span<const Point> points, Expected expected) {
    std::vector<double> distances;
    for (const Point& point : points) {
        distances.push_back(std::abs(point.y - expected(point)));
    }
    constexpr double share = 0.8;
    if (distances.empty()) {
        return 0;
    }
    std::ranges::sort(distances);
    return distances[static_cast<std::size_t>(share * static_cast<double>(distances.size()))];
}

// Of the parabola through three values, the middle one the greatest: places beside the middle.
double beside_peak(double before, double at, double after) {
    const double bend = before - 2 * at + after;
    return bend < 0 ? std::clamp((before - after) / (2 * bend), -0.5, 0.5) : 0;
}

double energy_of(std::span<const double> samples) {
    return std::inner_product(samples.begin(), samples.end(), samples.begin(), 0.0);
}

// --- one doubt after the other ---

void add_clipping(std::span<const double> recording, const SweepPlan& plan,
                  std::vector<Doubt>& doubts) {
    double greatest = 0;
    for (const double x : recording) {
        greatest = std::max(greatest, std::abs(x));
    }
    constexpr std::size_t least_run = 3;
    std::size_t places = 0, run = 0, first = 0;
    double last = 0;
    for (std::size_t n = 0; n < recording.size(); ++n) {
        const bool at_top = std::abs(recording[n]) >= greatest * (1 - 1e-6);
        run = !at_top ? 0 : recording[n] * last > 0 ? run + 1 : 1;
        last = recording[n];
        if (run == least_run) {
            first = places == 0 ? n : first;
            ++places;
        }
    }
    if (places > 0) {
        doubts.push_back(
            {DoubtKind::clipped,
             fmt::format("clipped in {} place{}, first at {:.2f} s", places, places == 1 ? "" : "s",
                         static_cast<double>(first) / plan.sample_rate_hz),
             "record it with less gain"});
    }
}

void add_noise(const ImpulseResponse& impulse, const SweepPlan& plan, std::vector<Doubt>& doubts) {
    std::optional<BandNoise> worst;
    for (const BandNoise& band : noise_by_band(impulse)) {
        const bool swept = band.centre_hz >= std::max(63.0, 1.5 * plan.from_hz)
                           && band.centre_hz <= std::min(8000.0, plan.to_hz / 1.5);
        if (swept && !band.at_least
            && (!worst || band.signal_to_noise_db < worst->signal_to_noise_db)) {
            worst = band;
        }
    }
    if (worst && worst->signal_to_noise_db < least_signal_to_noise_db) {
        doubts.push_back(
            {DoubtKind::noisy,
             fmt::format("stands only {:.0f} dB above the noise at {}", worst->signal_to_noise_db,
                         frequency_text(worst->centre_hz, 2)),
             "measure it again: louder, with a longer sweep or with several"});
    }
}

void add_rate(std::span<const double> recording, const SweepPlan& plan,
              std::vector<Doubt>& doubts) {
    const auto told_hz = told_rate_hz(recording, plan);
    if (!told_hz) {
        return;
    }
    const double longer = plan.sample_rate_hz / *told_hz;
    doubts.push_back({DoubtKind::other_rate,
                      fmt::format("the sweep is {:.1f} % too {}, as if recorded at {:g} Hz",
                                  100 * std::abs(1 / longer - 1), longer > 1 ? "short" : "long",
                                  std::round(*told_hz)),
                      "take its rate from the sweep, or choose the sweep that was played"});
}

// About the highest sample; a band's own periods do not show in it.
double middle_of_energy_s(const ImpulseResponse& band, double reach_s) {
    const double arrival = arrival_s(band);
    double sum = 0, moment = 0;
    for (std::size_t n = 0; n < band.samples.size(); ++n) {
        const double s = band.seconds_of(n) - arrival;
        if (std::abs(s) <= reach_s) {
            const double power = band.samples[n] * band.samples[n];
            sum += power;
            moment += power * s;
        }
    }
    return arrival + (sum > 0 ? moment / sum : 0);
}

// Below, a room's modes ring later than the sound arrives.
constexpr double lowest_timed_hz = 1250;

// When the thirds of an octave arrive, against when the sweep played them; both in seconds.
std::vector<Point> arrivals_by_band(const ImpulseResponse& impulse, const SweepPlan& plan) {
    std::vector<Point> arrivals;
    const double octave_s = octave_time_s(plan);
    for (double hz = lowest_timed_hz; hz <= std::min(16e3, plan.to_hz / 1.3);
         hz *= std::exp2(1.0 / 3)) {
        const double played_s = octaves_between(plan.from_hz, hz) * octave_s;
        arrivals.push_back({played_s, middle_of_energy_s(band_of(impulse, hz, 1.0 / 3), 2 / hz)});
    }
    return arrivals;
}

struct Jump {
    std::size_t from = 0; // the first band behind it
    double s = 0;         // by which they come later
    double spread_s = 0;  // that is left
};

Jump best_jump(const std::vector<Point>& arrivals) {
    constexpr std::size_t least_side = 3;
    Jump best;
    best.spread_s =
        spread_about(arrivals, [&, m = middle_of(arrivals)](const Point&) { return m; });
    const std::span<const Point> all(arrivals);
    for (std::size_t at = least_side; at + least_side <= arrivals.size(); ++at) {
        const double before = middle_of(all.first(at)), behind = middle_of(all.subspan(at));
        const double spread = spread_about(
            all, [&](const Point& point) { return point.x < arrivals[at].x ? before : behind; });
        if (spread < best.spread_s) {
            best = {at, behind - before, spread};
        }
    }
    return best;
}

void add_lost(const std::string& text, std::vector<Doubt>& doubts) {
    doubts.push_back({DoubtKind::lost_samples, text,
                      "record it again with larger blocks, or with less else running"});
}

void add_drift(double ppm, std::vector<Doubt>& doubts) {
    doubts.push_back({DoubtKind::clocks_apart,
                      fmt::format("the recorder's clock is {:.0f} millionths {} than the player's",
                                  std::abs(ppm), ppm > 0 ? "faster" : "slower"),
                      "record and play by one clock, or record a reference beside it"});
}

constexpr double least_drift_ppm = 15;

void add_timing(const ImpulseResponse& impulse, const SweepPlan& plan, std::vector<Doubt>& doubts) {
    const auto drowned = [](const BandNoise& band) {
        constexpr double least_db = 20;
        return band.centre_hz > lowest_timed_hz && !band.at_least
               && band.signal_to_noise_db < least_db;
    };
    if (std::ranges::any_of(noise_by_band(impulse), drowned)) {
        return; // the arrivals would be those of the noise
    }
    const std::vector<Point> arrivals = arrivals_by_band(impulse, plan);
    const double slope = slope_of(arrivals);
    std::vector<double> levelled;
    for (const Point& point : arrivals) {
        levelled.push_back(point.y - slope * point.x);
    }
    const double at_zero = median_of(levelled);
    const double sloped =
        spread_about(arrivals, [&](const Point& point) { return at_zero + slope * point.x; });
    const double even = spread_about(arrivals, [&, m = middle_of(arrivals)](auto) { return m; });
    const Jump jump = best_jump(arrivals);
    constexpr double least_jump_s = 0.5e-3, tells = 2;
    if (std::abs(jump.s) > least_jump_s && jump.spread_s * tells < even && jump.spread_s < sloped) {
        add_lost(
            fmt::format("{:.1f} ms {} while the sweep passed about {}", 1e3 * std::abs(jump.s),
                        jump.s < 0 ? "are missing" : "are too many",
                        frequency_text(plan.from_hz
                                       * std::exp2(arrivals[jump.from].x / octave_time_s(plan)))),
            doubts);
    } else if (std::abs(slope) * 1e6 > least_drift_ppm && sloped * tells < even) {
        add_drift(slope * 1e6, doubts);
    }
}

// How much later the last of several sweeps comes than it was played.
void add_drift_between(std::span<const double> recording, const SweepPlan& plan,
                       std::vector<Doubt>& doubts) {
    SweepPlan once = plan;
    once.repeats = 1;
    const auto first = deconvolved(one_sweep_of(recording, plan, 0), once, 0);
    const auto last = deconvolved(one_sweep_of(recording, plan, plan.repeats - 1), once, 0);
    if (!first || !last) {
        return;
    }
    const double apart_s =
        static_cast<double>(period_samples(plan)) * (plan.repeats - 1) / plan.sample_rate_hz;
    const double later_s = arrival_s(last->response) - arrival_s(first->response);
    const double ppm = 1e6 * later_s / apart_s;
    constexpr double most_ppm = 1000;
    if (std::abs(ppm) > most_ppm) {
        add_lost(fmt::format("{:.1f} ms {} between the sweeps", 1e3 * std::abs(later_s),
                             later_s < 0 ? "are missing" : "are too many"),
                 doubts);
    } else if (std::abs(ppm) > least_drift_ppm) {
        add_drift(ppm, doubts);
    }
}

// While the sweep is low, its fourth difference is next to nothing; that of a click is not.
void add_clicks(std::span<const double> recording, const SweepPlan& plan,
                std::vector<Doubt>& doubts) {
    constexpr double low_hz = lowest_timed_hz, tells = 12;
    const double until_s =
        plan.lead_in_s + octaves_between(plan.from_hz, low_hz) * octave_time_s(plan);
    const auto until = std::min(
        recording.size(), static_cast<std::size_t>(std::max(until_s, 0.0) * plan.sample_rate_hz));
    std::vector<double> sizes;
    for (std::size_t n = 4; n < until; ++n) {
        sizes.push_back(std::abs(recording[n] - 4 * recording[n - 1] + 6 * recording[n - 2]
                                 - 4 * recording[n - 3] + recording[n - 4]));
    }
    const auto highest = std::ranges::max_element(sizes);
    if (highest == sizes.end()) {
        return;
    }
    // Nothing of the sweep is as steep, were there no noise at all.
    const double steepest = std::pow(2 * pi * low_hz / plan.sample_rate_hz, 4);
    const double usual = median_of(sizes) + steepest * ratio_from_db(plan.peak_db);
    if (*highest > tells * usual) {
        add_lost(
            fmt::format("something clicks at {:.2f} s",
                        static_cast<double>(highest - sizes.begin() + 4) / plan.sample_rate_hz),
            doubts);
    }
}

// What a stretch of samples holds of any octave.
class BandEnergies {
public:
    // `hann`: under such a window, which keeps what is loud elsewhere from spreading over the cut
    // ends; the energy is that without it.
    BandEnergies(std::span<const double> samples, double sample_rate_hz, bool hann)
        : fft_(quick_fft_length(std::max<std::size_t>(samples.size(), 2))),
          step_hz_(sample_rate_hz / static_cast<double>(fft_.length())) {
        constexpr double hann_power = 3.0 / 8;
        const double turn = 2 * pi / static_cast<double>(samples.size());
        std::ranges::fill(fft_.signal(), 0.0);
        for (std::size_t n = 0; n < samples.size(); ++n) {
            fft_.signal()[n] =
                samples[n] * (hann ? 0.5 - 0.5 * std::cos(turn * static_cast<double>(n)) : 1);
        }
        fft_.to_spectrum();
        scale_ = 2 / static_cast<double>(fft_.length()) / (hann ? hann_power : 1);
    }
    double of(double centre_hz) const {
        const auto bins = fft_.spectrum();
        const double half = std::sqrt(2.0);
        const auto from = static_cast<std::size_t>(std::ceil(centre_hz / half / step_hz_));
        const auto to =
            std::min(bins.size() - 1, static_cast<std::size_t>(centre_hz * half / step_hz_));
        double sum = 0;
        for (std::size_t k = std::max<std::size_t>(from, 1); k <= to; ++k) {
            sum += std::norm(bins[k]);
        }
        return sum * scale_;
    }

private:
    mutable RealFft fft_; // it is only read
    double step_hz_, scale_ = 1;
};

// How much of an impulse response lies within a millisecond of its arrival.
double concentration(const ImpulseResponse& impulse) {
    const double all = energy_of(impulse.samples);
    const auto peak = static_cast<std::ptrdiff_t>(
        std::llround(arrival_s(impulse) * impulse.sample_rate_hz) - impulse.begins_at);
    const auto reach = static_cast<std::ptrdiff_t>(1e-3 * impulse.sample_rate_hz);
    const auto size = static_cast<std::ptrdiff_t>(impulse.samples.size());
    const auto from = std::clamp<std::ptrdiff_t>(peak - reach, 0, size);
    const auto to = std::clamp<std::ptrdiff_t>(peak + reach, 0, size);
    return all > 0 ? energy_of({impulse.samples.data() + from, impulse.samples.data() + to}) / all
                   : 0;
}

void add_reference(std::span<const double> recording, std::span<const double> reference,
                   const SweepPlan& plan, std::vector<Doubt>& doubts) {
    constexpr double clean = 0.9; // a cable has nearly all of it there, a room about half
    const auto heard = deconvolved(reference, plan, 0);
    const double of_reference = heard ? concentration(heard->response) : 0;
    if (of_reference >= clean) {
        return;
    }
    const auto other = deconvolved(recording, plan, 0);
    if (heard && other && concentration(other->response) >= clean) {
        doubts.push_back({DoubtKind::swapped_channels,
                          "the reference sounds like a room and the microphone like a cable",
                          "choose the other channel as the reference"});
    } else {
        doubts.push_back({DoubtKind::missing_reference,
                          "its reference channel holds no clean sweep",
                          "look at its cable and level, or measure without a reference"});
    }
}

// The highest peak of each frame of a spectrogram, from a bin on, where it is a tone's: seconds and
// octaves, of the first sweep.
std::vector<Point> ridge_of(std::span<const double> recording, const SweepPlan& plan,
                            std::size_t lowest_bin) {
    const double octave_s = octave_time_s(plan);
    const auto frame = std::bit_ceil(
        static_cast<std::size_t>(std::clamp(octave_s * plan.sample_rate_hz / 8, 256.0, 8192.0)));
    RealFft fft(frame);
    std::vector<double> window(frame);
    for (std::size_t n = 0; n < frame; ++n) {
        window[n] =
            0.5 - 0.5 * std::cos(2 * pi * static_cast<double>(n) / static_cast<double>(frame));
    }
    std::vector<Point> ridge;
    for (std::size_t at = 0; at + frame <= recording.size(); at += frame / 2) {
        for (std::size_t n = 0; n < frame; ++n) {
            fft.signal()[n] = window[n] * recording[at + n];
        }
        fft.to_spectrum();
        const auto bins = fft.spectrum();
        std::size_t top = 1;
        double sum = 0;
        for (std::size_t k = 1; k + 1 < bins.size(); ++k) {
            sum += std::norm(bins[k]);
            top = std::norm(bins[k]) > std::norm(bins[top]) ? k : top;
        }
        // A sweep within a frame fills a small part of the spectrum; noise does not.
        constexpr double least_share = 0.1;
        if (top < lowest_bin || std::norm(bins[top]) < least_share * sum) {
            continue;
        }
        const double hz =
            (static_cast<double>(top)
             + beside_peak(std::abs(bins[top - 1]), std::abs(bins[top]), std::abs(bins[top + 1])))
            * plan.sample_rate_hz / static_cast<double>(frame);
        ridge.push_back({static_cast<double>(at) / plan.sample_rate_hz, std::log2(hz)});
    }
    const auto turn = std::ranges::adjacent_find(
        ridge, [](const Point& a, const Point& b) { return b.y < a.y - 2; });
    ridge.erase(turn == ridge.end() ? turn : std::next(turn), ridge.end());
    return ridge;
}

// Octaves a second against the plan's; nothing of too few points.
std::optional<double> pace_of(const std::vector<Point>& ridge, const SweepPlan& plan) {
    constexpr std::size_t least_points = 12;
    if (ridge.size() < least_points) {
        return std::nullopt;
    }
    // All pairs of them are looked at.
    constexpr std::size_t most_points = 500;
    const std::size_t step = ridge.size() / most_points + 1;
    std::vector<Point> thin;
    for (std::size_t i = 0; i < ridge.size(); i += step) {
        thin.push_back(ridge[i]);
    }
    return slope_of(thin) * octave_time_s(plan);
}

} // namespace

std::vector<BandNoise> noise_by_band(const ImpulseResponse& impulse) {
    const std::span<const double> samples(impulse.samples);
    const std::size_t fifth = samples.size() / 5;
    if (fifth < 4) {
        return {};
    }
    constexpr double longest_s = 1, before_s = 0.05; // low bands stir before the arrival
    const auto arrival = static_cast<std::ptrdiff_t>(
        std::llround((arrival_s(impulse) - before_s) * impulse.sample_rate_hz) - impulse.begins_at);
    const auto from = static_cast<std::size_t>(
        std::clamp<std::ptrdiff_t>(arrival, 0, static_cast<std::ptrdiff_t>(samples.size()) - 1));
    const auto length =
        std::min(samples.size() - from,
                 static_cast<std::size_t>((longest_s + before_s) * impulse.sample_rate_hz));
    const BandEnergies all(samples.subspan(from, length), impulse.sample_rate_hz, false);
    const BandEnergies last(samples.last(fifth), impulse.sample_rate_hz, true);
    const BandEnergies before(samples.last(2 * fifth).first(fifth), impulse.sample_rate_hz, true);
    std::vector<BandNoise> bands;
    for (double hz = 31.5; hz < 20e3 && hz * 1.5 < impulse.sample_rate_hz / 2; hz *= 2) {
        const double noise = last.of(hz) * static_cast<double>(length) / static_cast<double>(fifth);
        const double energy = all.of(hz);
        constexpr double most_db = 200, falls = 1.6; // 2 dB
        const double db = energy <= noise ? 0
                          : noise > 0     ? 10 * std::log10((energy - noise) / noise)
                                          : most_db;
        // Of so few independent values nobody can say whether they fall.
        constexpr double least_values = 10;
        const double values =
            hz / std::sqrt(2.0) * static_cast<double>(fifth) / impulse.sample_rate_hz;
        bands.push_back({hz, std::clamp(db, 0.0, most_db),
                         values < least_values || before.of(hz) > falls * last.of(hz)});
    }
    return bands;
}

std::optional<BandNoise> worst_noise(const ImpulseResponse& impulse) {
    std::optional<BandNoise> worst;
    const auto rank = [](const BandNoise& band) {
        return std::pair(band.at_least, band.signal_to_noise_db);
    };
    for (const BandNoise& band : noise_by_band(impulse)) {
        const bool counts = band.centre_hz >= 63 && band.centre_hz <= 8000;
        if (counts && (!worst || rank(band) < rank(*worst))) {
            worst = band;
        }
    }
    return worst;
}

std::optional<double> rate_ratio(std::span<const double> recording, const SweepPlan& plan) {
    constexpr std::size_t steady_bin = 24;
    return pace_of(ridge_of(recording, plan, steady_bin), plan);
}

bool holds_sweep(std::span<const double> recording, const SweepPlan& plan) {
    // Low ones waver with the room, but of a recording that ends early there are no others.
    constexpr std::size_t lowest_bin = 6;
    constexpr double slowest = 0.2, fastest = 5;
    auto pace = rate_ratio(recording, plan);
    pace = pace ? pace : pace_of(ridge_of(recording, plan, lowest_bin), plan);
    return pace && *pace > slowest && *pace < fastest;
}

std::optional<double> told_rate_hz(std::span<const double> recording, const SweepPlan& plan) {
    constexpr double tells = 0.03, same = 0.015; // a room that rings long at its low end shows 0.01
    const auto ratio = rate_ratio(recording, plan);
    if (!ratio || std::abs(*ratio - 1) < tells) {
        return std::nullopt;
    }
    double told_hz = plan.sample_rate_hz / *ratio;
    for (const double usual_hz :
         {16e3, 22.05e3, 32e3, 44.1e3, 48e3, 88.2e3, 96e3, 176.4e3, 192e3}) {
        told_hz = std::abs(told_hz / usual_hz - 1) < same ? usual_hz : told_hz;
    }
    return told_hz;
}

std::vector<Doubt> doubts_of(std::span<const double> recording, std::span<const double> reference,
                             const SweepPlan& plan, const Deconvolved& made) {
    std::vector<Doubt> doubts;
    add_clipping(recording, plan, doubts);
    if (!reference.empty()) {
        add_reference(recording, reference, plan, doubts);
    }
    const std::size_t before = doubts.size();
    add_rate(recording, plan, doubts);
    if (doubts.size() > before) {
        return doubts; // nothing else can be said of it
    }
    add_noise(made.response, plan, doubts);
    add_clicks(recording, plan, doubts);
    if (reference.empty()) { // one that is recorded beside takes all that out
        add_timing(made.response, plan, doubts);
        if (plan.repeats > 1) {
            add_drift_between(recording, plan, doubts);
        }
    }
    return doubts;
}

} // namespace syntonon
