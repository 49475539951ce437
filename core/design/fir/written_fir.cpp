// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/written_fir.h"

#include "core/design/fir/closed_forms.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

Expected<double> samples_per_symbol(double symbol_rate_hz, const FirTask& task) {
    const double rate = task.brief.sample_rate_hz;
    if (!(symbol_rate_hz > 0 && symbol_rate_hz <= rate)) {
        return refuse("symbol_rate_hz",
                      fmt::format("{} Hz is not above 0 and at most the sample rate ({} Hz)",
                                  symbol_rate_hz, rate),
                      "take a lower one");
    }
    if (auto ok = check_length(task.length, most_written); !ok) {
        return tl::unexpected(ok.error());
    }
    return rate / symbol_rate_hz;
}

template <class Taps>
Expected<FirMade> pulse(double symbol_rate_hz, const FirTask& task, const char* source,
                        const Taps& taps) {
    return samples_per_symbol(symbol_rate_hz, task).map([&](double samples) {
        FirMade made{taps(samples), source};
        made.steps = {{"Pulse",
                       {{"T", "one symbol", samples, "samples"},
                        {"N/T", "the taps reach over", double(task.length) / samples, "symbols"}}}};
        return made;
    });
}

constexpr const char* proakis =
    "Pulse for symbols (Proakis and Salehi, Digital Communications, 5th ed., section 9.2), sum 1";

} // namespace

Expected<FirMade> made(const RaisedCosineFir& method, const FirTask& task) {
    return pulse(method.symbol_rate_hz, task, proakis, [&](double samples) {
        return raised_cosine_taps(task.length, samples, method.roll_off);
    });
}

Expected<FirMade> made(const RootRaisedCosineFir& method, const FirTask& task) {
    return pulse(method.symbol_rate_hz, task, proakis, [&](double samples) {
        return root_raised_cosine_taps(task.length, samples, method.roll_off);
    });
}

Expected<FirMade> made(const GaussianPulseFir& method, const FirTask& task) {
    return pulse(method.symbol_rate_hz, task, "Gaussian pulse (Murota and Hirade, 1981), sum 1",
                 [&](double samples) {
                     return gaussian_pulse_taps(task.length, samples, method.bandwidth_time);
                 });
}

Expected<FirMade> made(const MovingAverageFir& method, const FirTask& task) {
    const std::size_t whole =
        static_cast<std::size_t>(std::max(method.power, 1)) * (task.length - 1) + 1;
    if (method.power < 1 || whole > most_written) {
        return refuse("power",
                      fmt::format("{} times {} are {} taps", method.power, task.length, whole),
                      fmt::format("stay between 1 and {} taps", most_written));
    }
    return FirMade{moving_average_taps(task.length, method.power), "A mean, convolved with itself"};
}

Expected<FirMade> made(const SavitzkyGolayFir& method, const FirTask& task) {
    constexpr std::size_t most = 4095;
    if (auto ok = check_length(task.length, most); !ok) {
        return tl::unexpected(ok.error());
    }
    if (method.degree < 0 || static_cast<std::size_t>(method.degree) >= task.length) {
        return refuse(
            "degree",
            fmt::format("{} samples hold no polynomial of degree {}", task.length, method.degree),
            fmt::format("take 0 to {}", task.length - 1));
    }
    if (method.derivative < 0 || method.derivative > method.degree) {
        return refuse("derivative",
                      fmt::format("a polynomial of degree {} has none of order {} but 0",
                                  method.degree, method.derivative),
                      fmt::format("take 0 to {}", method.degree));
    }
    return FirMade{savitzky_golay_taps(task.length, method.degree, method.derivative),
                   "Middle of the least-squares polynomial (Savitzky and Golay, 1964)"};
}

} // namespace syntonon
