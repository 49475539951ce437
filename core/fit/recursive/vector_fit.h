// Poles and zeros to a complex response by linear least squares, again and again: a start for
// JointRoots, good wherever the response can be met well.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/recursive/joint_roots.h"

namespace syntonon {

// As many zeros as poles, `order` of them, to the aim's level and phase; errors count in parts of
// the level. Vector fitting: the response times a filter with the poles so far, and that filter,
// are sums of partial fractions over those poles, for which the errors are linear; its zeros are
// the next poles, mirrored inside of the circle where they are not (B. Gustavsen and A. Semlyen,
// Rational approximation of frequency domain responses by vector fitting, IEEE Trans. Power
// Delivery 14, 1999, eq. 2 to 8; without its pull towards large filters: B. Gustavsen, Improving
// the pole relocating properties of vector fitting, IEEE Trans. Power Delivery 21, 2006, eq. 5 to
// 9), in the image of root_factors.h.
RootFactors vector_fit(const ResponseAim& aim, double sample_rate_hz, int order,
                       const Watch& watch);

} // namespace syntonon
