// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/least_squares_fir.h"

#include "core/design/fir/least_squares.h"

namespace syntonon {

Expected<FirMade> made(const LeastSquaresFir& method, const FirTask& task) {
    if (auto ok = check_length(task.length, most_least_squares); !ok) {
        return tl::unexpected(ok.error());
    }
    const bool is_odd = method.symmetry == FirSymmetry::odd;
    if (is_odd && method.delay_samples) {
        return refuse("delay_samples", "and odd symmetry exclude one another",
                      "leave one of them out");
    }
    const double delay = method.delay_samples.value_or(middle_of(task.length));
    if (auto ok = check_delay(delay, task.length); !ok) {
        return tl::unexpected(ok.error());
    }
    const auto wanted = weighted_amplitude_of(task.wish, task.brief);
    if (!wanted) {
        return tl::unexpected(wanted.error());
    }
    if (delay == middle_of(task.length)) {
        if (auto ok = check_reach({task.length, is_odd}, *wanted); !ok) {
            return tl::unexpected(ok.error());
        }
    }
    const auto found = least_squares(task.length, *wanted, is_odd, delay, task.watch);
    if (!found) {
        return tl::unexpected(found.error());
    }
    FirMade made{
        found->taps,
        "Least weighted squared error: Toeplitz normal equations by Levinson's recursion and "
        "conjugate gradients (Parks and Burrus, Digital Filter Design, 1987, section 3.2)"};
    made.steps = {{"Normal equations",
                   {{"κ", "condition, about", found->condition, ""},
                    {"τ", "delay asked for", delay, "samples"}}}};
    return made;
}

} // namespace syntonon
