// Analog low-pass prototypes of the classical families, as poles and zeros.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <complex>
#include <vector>

namespace syntonon {

// H(s) = gain prod(s - zero) / prod(s - pole), s in rad/s; conjugates written out, pairs adjacent
// with the upper one first.
struct Prototype {
    std::vector<std::complex<double>> zeros, poles;
    double gain = 1;
};

// Of an order from 1 to most_prototype_order, with its edge at 1 rad/s: half power for Butterworth,
// synchronously tuned poles, Bessel, Legendre and Gaussian, a quarter of it for Linkwitz-Riley, the
// end of the pass ripple for Chebyshev and elliptic, the start of the stopband for inverse
// Chebyshev. The ripple of r dB lies between 0 and -r. Refused, naming `order`, `pass_ripple_db` or
// `stop_attenuation_db`: an order out of range, an odd one for Linkwitz-Riley, ripple and
// attenuation that are not above 0, a stopband that is no lower than the passband.
inline constexpr int most_prototype_order = 50;

Expected<Prototype> butterworth_prototype(int order);
Expected<Prototype> synchronous_prototype(int order);
Expected<Prototype> linkwitz_riley_prototype(int order);
// A. V. Oppenheim and R. W. Schafer, Discrete-Time Signal Processing, 3rd ed., appendix B.
Expected<Prototype> chebyshev_prototype(int order, double pass_ripple_db);
Expected<Prototype> inverse_chebyshev_prototype(int order, double stop_attenuation_db);
// S. J. Orfanidis, Lecture Notes on Elliptic Filter Design, 2006, eq. 62-66.
Expected<Prototype> elliptic_prototype(int order, double pass_ripple_db,
                                       double stop_attenuation_db);
// W. E. Thomson, Delay networks having maximally flat frequency characteristics, Proc. IEE 96,
// 1949. Its edge is where the power is halved, or it has a delay of 1 s at 0 Hz.
enum class BesselEdge { level, delay };
Expected<Prototype> bessel_prototype(int order, BesselEdge edge);
// A. Papoulis, Optimum filters with monotonic response, Proc. IRE 46, 1958; even orders: M. Fukada,
// Optimum filters of even orders with monotonic response, IRE Trans. Circuit Theory 6, 1959.
Expected<Prototype> legendre_prototype(int order);
// 1 / |H|^2 is the series of e^(c w^2) up to w^(2 order) (H. J. Blinchikoff and A. I. Zverev,
// Filtering in the Time and Frequency Domains, 1976, section 3.7); c makes the edge half power.
Expected<Prototype> gaussian_prototype(int order);

// Parts of the above.
Expected<void> check_prototype_order(int order);
Prototype with_level_at_0(Prototype prototype, double level); // the gain with which H(0) is `level`

} // namespace syntonon
