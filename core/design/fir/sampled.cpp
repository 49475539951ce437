// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/sampled.h"

#include "core/base/units.h"
#include "core/math/fft.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

double gain_at(const std::vector<LinePiece>& lines, double w) {
    const auto line = std::ranges::find_if(lines, [w](const LinePiece& l) { return w <= l.to; });
    return (line == lines.end() ? lines.back() : *line).at(w);
}

Expected<FirMade> at_equal_steps(const FirTask& task, double delay) {
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
        if (!std::isfinite(samples[i].gain)) {
            return refuse(fmt::format("samples[{}].gain", i), "is not a finite number",
                          "give a number");
        }
    }
    return {};
}

// Symmetric taps by their cosine sum: half the unknowns.
Eigen::MatrixXd rows_about_middle(const std::vector<double>& w, std::size_t length) {
    const auto half = static_cast<Eigen::Index>((length + 1) / 2);
    Eigen::MatrixXd rows(static_cast<Eigen::Index>(w.size()), half);
    for (Eigen::Index i = 0; i < rows.rows(); ++i) {
        for (Eigen::Index n = 0; n < half; ++n) {
            const double t = middle_of(length) - static_cast<double>(n);
            const double cosine = std::cos(w[static_cast<std::size_t>(i)] * t);
            constexpr double rounding = 1e-12; // a row of that would be taken for an equation
            rows(i, n) = std::abs(cosine) < rounding ? 0 : (t == 0 ? 1 : 2) * cosine;
        }
    }
    return rows;
}

// Real and imaginary part of the sum, turned back by the delay.
Eigen::MatrixXd rows_about(const std::vector<double>& w, std::size_t length, double delay) {
    const auto count = static_cast<Eigen::Index>(length);
    const auto samples = static_cast<Eigen::Index>(w.size());
    Eigen::MatrixXd rows(2 * samples, count);
    for (Eigen::Index i = 0; i < samples; ++i) {
        for (Eigen::Index n = 0; n < count; ++n) {
            const double t = w[static_cast<std::size_t>(i)] * (delay - static_cast<double>(n));
            rows(i, n) = std::cos(t);
            rows(samples + i, n) = std::sin(t);
        }
    }
    return rows;
}

Expected<FirMade> at_places(const std::vector<FirSample>& samples, const FirTask& task,
                            double delay) {
    const double rate = task.brief.sample_rate_hz;
    if (auto ok = check_samples(samples, rate); !ok) {
        return tl::unexpected(ok.error());
    }
    if (task.length > most_free_samples || samples.size() > most_free_samples) {
        return refuse(task.length > most_free_samples ? "length" : "samples",
                      fmt::format("more than {} are too many for free samples", most_free_samples),
                      "use bands: they are sampled at equal steps");
    }
    const bool is_linear = delay == middle_of(task.length);
    for (std::size_t i = 0; is_linear && task.length % 2 == 0 && i < samples.size(); ++i) {
        if (samples[i].frequency_hz == rate / 2 && samples[i].gain != 0) {
            return refuse(fmt::format("samples[{}].gain", i),
                          fmt::format("{} taps with even symmetry (type II) let nothing through at "
                                      "half the sample rate",
                                      task.length),
                          fmt::format("use 0, or {} taps", task.length + 1));
        }
    }
    std::vector<double> w;
    for (const FirSample& sample : samples) {
        w.push_back(rad_per_sample_from_hz(sample.frequency_hz, rate));
    }
    const Eigen::MatrixXd rows =
        is_linear ? rows_about_middle(w, task.length) : rows_about(w, task.length, delay);
    Eigen::VectorXd gains = Eigen::VectorXd::Zero(rows.rows());
    for (std::size_t i = 0; i < samples.size(); ++i) {
        gains[static_cast<Eigen::Index>(i)] = samples[i].gain;
    }
    const Eigen::CompleteOrthogonalDecomposition<Eigen::MatrixXd> parts(rows);
    const Eigen::VectorXd found = parts.solve(gains);
    const double off = (rows * found - gains).lpNorm<Eigen::Infinity>();
    FirMade made{
        std::vector<double>(task.length),
        "Least squares through free samples, by complete orthogonal decomposition (Golub and "
        "Van Loan, Matrix Computations, 4th ed., section 5.5)"};
    for (std::size_t n = 0; n < task.length; ++n) {
        const std::size_t from = is_linear ? std::min(n, task.length - 1 - n) : n;
        made.taps[n] = found[static_cast<Eigen::Index>(from)];
    }
    made.steps = {{"Samples",
                   {{"M", "given", static_cast<double>(samples.size()), ""},
                    {"ρ", "rank: what the taps can meet", static_cast<double>(parts.rank()), ""},
                    {"ε", "greatest error at a sample", off, ""},
                    {"τ", "delay", delay, "samples"}}}};
    return made;
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
    return method.samples.empty() ? at_equal_steps(task, delay)
                                  : at_places(method.samples, task, delay);
}

} // namespace syntonon
