// FIRs that are written down rather than searched for. All are centred in their length.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <vector>

namespace syntonon {

// Pulses for symbols that are `samples_per_symbol` apart; the taps sum to 1. J. G. Proakis and M.
// Salehi, Digital Communications, 5th ed., 2008, section 9.2. The roll-off is 0 to 1.
std::vector<double> raised_cosine_taps(std::size_t length, double samples_per_symbol,
                                       double roll_off);
std::vector<double> root_raised_cosine_taps(std::size_t length, double samples_per_symbol,
                                            double roll_off);
// Half power at bandwidth_time / samples_per_symbol cycles per sample, but for what the length cuts
// off (K. Murota and K. Hirade, GMSK modulation for digital mobile radio telephony, IEEE Trans.
// Communications 29, 1981).
std::vector<double> gaussian_pulse_taps(std::size_t length, double samples_per_symbol,
                                        double bandwidth_time);

// A mean of `length` samples, `power` times: power (length - 1) + 1 taps.
std::vector<double> moving_average_taps(std::size_t length, int power);

// The value, or a derivative by samples, in the middle of the polynomial of that degree that comes
// nearest to `length` samples in the least-squares sense (A. Savitzky and M. J. E. Golay, Smoothing
// and differentiation of data by simplified least squares procedures, Analytical Chemistry 36,
// 1964), by orthogonal polynomials of a discrete variable. degree < length, derivative <= degree.
std::vector<double> savitzky_golay_taps(std::size_t length, int degree, int derivative);

} // namespace syntonon
