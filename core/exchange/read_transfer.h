// A filter typed or pasted as text: a transfer function, a difference equation, coefficients.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/rational.h"
#include "core/filter/roots.h"
#include "core/word/layout.h"

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

namespace syntonon {

// What of a text could not be understood, by bytes.
struct Misread {
    std::size_t at = 0, length = 0;
    std::string reason, way_out;
};

struct ReadTransfer {
    Roots roots; // of what was written as factors up to the second degree, and the whole gain
    // What is left, up to degree 200 each, highest power first.
    std::vector<std::vector<double>> more_zeros, more_poles;
    Coefficients coefficients; // sampled only; of one fraction or equation as they were written
};
// With the zeros of what is left; those may take a second. Refused where they were not found.
Expected<Roots> all_roots(const ReadTransfer& read);

// Any of:
//   H(z) = 0.5 (1 + 2 z^-1 + z^-2) / (1 - 0.9 z^-1)     sums, products, fractions, whole powers of
//   z H(s) = ...                                          or s, with j for the imaginary unit y[n]
//   = 0.5 x[n] + 0.5 x[n-1] + 0.9 y[n-1]           also several lines, each out of the one above b:
//   0.5, 0.5                                          rows of numbers, and of a; or b0 = 0.5, … a:
//   1, -0.9
// Products are kept as factors, so that roots are as exact as they were written. Understands what
// transfer_text writes plainly, and in C as an equation. `sign` is that of rows only.
tl::expected<ReadTransfer, Misread> read_transfer(std::string_view text,
                                                  FeedbackSign sign = FeedbackSign::subtracted);

} // namespace syntonon
