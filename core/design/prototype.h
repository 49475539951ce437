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

// Of an order from 1 to most_prototype_order, with its edge at 1 rad/s: half power for Butterworth
// and synchronously tuned poles, a quarter of it for Linkwitz-Riley, the end of the pass ripple for
// Chebyshev and elliptic, the start of the stopband for inverse Chebyshev. The ripple of r dB lies
// between 0 and -r. Refused, naming `order`, `pass_ripple_db` or `stop_attenuation_db`: an order
// out of range, an odd one for Linkwitz-Riley, ripple and attenuation that are not above 0, a
// stopband that is no lower than the passband.
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

} // namespace syntonon
