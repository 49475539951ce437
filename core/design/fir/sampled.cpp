// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/sampled.h"

#include "core/base/units.h"
#include "core/design/fir/equal_steps.h"
#include "core/design/fir/free_samples.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

Expected<FirMade> by_transform_alone(const FirTask& task, double delay) {
    const auto lines = joined_wish(task, delay);
    if (!lines) {
        return tl::unexpected(lines.error());
    }
    RealFft fft(task.length);
    const auto count = static_cast<double>(task.length);
    for (std::size_t k = 0; k < fft.spectrum().size(); ++k) {
        const double turns = std::remainder(static_cast<double>(k) * (delay / count), 1.0);
        const double w = 2 * pi * static_cast<double>(k) / count;
        fft.spectrum()[k] = std::polar(1.0, -2 * pi * turns) * (gain_at(*lines, w) / count);
    }
    fft.to_signal();
    FirMade made{{fft.signal().begin(), fft.signal().end()},
                 "Inverse Fourier transform of samples (Parks and Burrus, Digital Filter Design, "
                 "1987, section 3.1)"};
    made.steps = {{"Samples",
                   {{"Δf", "between samples", task.brief.sample_rate_hz / count, "Hz"},
                    {"τ", "delay", delay, "samples"}}}};
    return made;
}

Expected<void> check_samples(const std::vector<FirSample>& samples, double rate) {
    for (std::size_t i = 0; i < samples.size(); ++i) {
        if (!(samples[i].frequency_hz >= 0 && samples[i].frequency_hz <= rate / 2)) {
            return refuse(fmt::format("samples[{}].frequency_hz", i),
                          fmt::format("{} Hz is not between 0 Hz and half the sample rate ({} Hz)",
                                      samples[i].frequency_hz, rate / 2),
                          "move it there");
        }
        if (!std::isfinite(samples[i].gain.value_or(0))) {
            return refuse(fmt::format("samples[{}].gain", i), "is not a finite number",
                          "give a number");
        }
    }
    return {};
}

Expected<void> check_count(std::size_t length, std::size_t samples) {
    if (length > most_free_samples || samples > most_free_samples) {
        return refuse(length > most_free_samples ? "length" : "samples",
                      fmt::format("more than {} are too many for free samples", most_free_samples),
                      "use bands: they are sampled at equal steps");
    }
    return {};
}

// Type II is 0 at half the rate.
Expected<void> check_last(const std::vector<FirSample>& samples, std::size_t length, double rate) {
    for (std::size_t i = 0; length % 2 == 0 && i < samples.size(); ++i) {
        if (samples[i].frequency_hz == rate / 2 && samples[i].gain != 0.0) {
            return refuse(fmt::format("samples[{}].gain", i),
                          fmt::format("{} taps with even symmetry (type II) let nothing through at "
                                      "half the sample rate",
                                      length),
                          fmt::format("use 0, or {} taps", length + 1));
        }
    }
    return {};
}

std::vector<PlacedSample> placed(const std::vector<FirSample>& samples, double rate) {
    std::vector<PlacedSample> all;
    for (const FirSample& sample : samples) {
        all.push_back(
            {std::min(rad_per_sample_from_hz(sample.frequency_hz, rate), pi), sample.gain});
    }
    return all;
}

std::size_t chosen_in(const std::vector<FirSample>& samples) {
    return static_cast<std::size_t>(
        std::ranges::count_if(samples, [](const FirSample& s) { return !s.gain; }));
}

// What is left to the program needs linear phase, and something to be made least.
Expected<void> check_chosen(const std::vector<FirSample>& samples, bool is_linear,
                            const Amplitude& over) {
    const auto first = std::ranges::find_if(samples, [](const FirSample& s) { return !s.gain; });
    const std::string place = fmt::format("samples[{}]", first - samples.begin());
    if (first == samples.end()) {
        return {};
    }
    if (!is_linear) {
        return refuse(place, "is left to the program, which takes linear phase",
                      "give it a gain, or leave the delay out");
    }
    if (over.empty()) {
        return refuse(place,
                      "is left to the program, but no two neighbouring samples are 0: there is no "
                      "stop band whose level could be least",
                      "give it a gain, or set samples of a stop band to 0");
    }
    if (const std::size_t count = chosen_in(samples); count > most_chosen_samples) {
        return refuse(place, fmt::format("and others, {} in all, are left to the program", count),
                      fmt::format("give gains to all but {}", most_chosen_samples));
    }
    return {};
}

Expected<FirMade> through(const std::vector<FirSample>& samples, const FirTask& task, double delay,
                          const Amplitude& over) {
    const auto found =
        taps_through(placed(samples, task.brief.sample_rate_hz), task.length, delay, over);
    FirMade made{found.taps,
                 "Least squares through free samples, by complete orthogonal decomposition (Golub "
                 "and Van Loan, Matrix Computations, 4th ed., section 5.5)"};
    made.steps = {{"Samples",
                   {{"M", "given", static_cast<double>(samples.size() - found.chosen.size()), ""},
                    {"ρ", "rank: what the taps can meet", static_cast<double>(found.rank), ""},
                    {"ε", "greatest error at a sample", found.error, ""},
                    {"τ", "delay", delay, "samples"}}}};
    if (!found.worst) {
        return made;
    }
    made.source += "; what is left to the program by Rabiner, Gold and McGonegal, 1970, with "
                   "Stiefel's exchange";
    WorkingStep step{"Left to the program",
                     {{"δ", "greatest weighted error, the least possible", *found.worst, ""}}};
    std::size_t next = 0;
    for (const FirSample& sample : samples) {
        if (!sample.gain) {
            step.numbers.push_back({fmt::format("T{}", next + 1),
                                    fmt::format("gain at {:.6g} Hz", sample.frequency_hz),
                                    found.chosen[next], ""});
            ++next;
        }
    }
    made.steps.push_back(std::move(step));
    return made;
}

Expected<FirMade> at_places(const std::vector<FirSample>& samples, const FirTask& task,
                            double delay) {
    const double rate = task.brief.sample_rate_hz;
    const bool is_linear = delay == middle_of(task.length);
    const Amplitude over = stop_stretches(placed(samples, rate));
    for (auto ok : {check_samples(samples, rate), check_count(task.length, samples.size()),
                    is_linear ? check_last(samples, task.length, rate) : Expected<void>(),
                    check_chosen(samples, is_linear, over)}) {
        if (!ok) {
            return tl::unexpected(ok.error());
        }
    }
    return through(samples, task, delay, over);
}

// --- equal steps
// ----------------------------------------------------------------------------------

bool is_silent(const AmplitudePiece& piece) {
    return piece.gain.at_from == 0 && piece.gain.at_to == 0;
}

Expected<FirMade> with_best_between(const SampledFir& method, const FirTask& task) {
    if (task.length > most_free_samples) {
        return refuse("length",
                      fmt::format("{} taps are more than {}, which is where samples between bands "
                                  "can be left to the program",
                                  task.length, most_free_samples),
                      "take fewer, or straight lines between bands");
    }
    const auto samples = samples_at_equal_steps(method, task);
    const auto wanted = asked_at_steps(method, task);
    if (!samples || !wanted) {
        return tl::unexpected(samples ? wanted.error() : samples.error());
    }
    if (const std::size_t count = chosen_in(*samples); count > most_chosen_samples) {
        return refuse("between",
                      fmt::format("leaves {} samples to the program; {} are the most", count,
                                  most_chosen_samples),
                      "take fewer taps, a narrower gap, or straight lines");
    }
    Amplitude silent;
    std::ranges::copy_if(*wanted, std::back_inserter(silent), is_silent);
    auto made = through(*samples, task, middle_of(task.length),
                        task.wish.use_goal || silent.empty() ? *wanted : silent);
    if (made && chosen_in(*samples) == 0) {
        made->note = "no sample lies between bands";
    }
    return made;
}

Expected<FirMade> at_equal_steps(const SampledFir& method, const FirTask& task, double delay) {
    if (method.between == SampledFir::Between::straight) {
        return by_transform_alone(task, delay);
    }
    if (method.delay_samples) {
        return refuse("between", "leaves samples to the program, which takes linear phase",
                      "leave the delay out, or use straight lines");
    }
    return with_best_between(method, task);
}

} // namespace

Expected<FirMade> made(const SampledFir& method, const FirTask& task) {
    if (auto ok = check_length(task.length, most_sampled); !ok) {
        return tl::unexpected(ok.error());
    }
    const double delay = method.delay_samples.value_or(middle_of(task.length));
    if (auto ok = check_delay(delay, task.length); !ok) {
        return tl::unexpected(ok.error());
    }
    return method.samples.empty() ? at_equal_steps(method, task, delay)
                                  : at_places(method.samples, task, delay);
}

} // namespace syntonon
