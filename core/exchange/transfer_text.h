// A filter's transfer function written out, to be read, copied and edited.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

#include <array>
#include <string>

namespace syntonon {

enum class TransferForm {
    sections,   // a product of fractions of second order
    roots,      // gain, zeros and poles
    polynomial, // one fraction
    equation    // y[n] = …
};
inline constexpr std::array all_transfer_forms = {TransferForm::sections, TransferForm::roots,
                                                  TransferForm::polynomial, TransferForm::equation};

// C: an expression in zi = 1/z (or s), of type double complex; an equation is one for real arrays.
// C lines: whatever the form, what makes y of the sample x: what is remembered, at rest, the
// equation, and the step; up to order 16.
enum class TransferDialect { plain, tex, c, c_lines };

// With all digits, so that read_transfer gives the same filter back. `as_written`: coefficients to
// be used instead of the roots multiplied out. Refused without roots (or sections), of an analog
// filter as an equation, and multiplied out beyond order 200.
Expected<std::string> transfer_text(const Filter& filter, TransferForm form,
                                    TransferDialect dialect = TransferDialect::plain,
                                    const Coefficients* as_written = nullptr);

} // namespace syntonon
