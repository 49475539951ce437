// What written numbers are worth, with the format of their words where there is one.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/found_coefficients.h"
#include "core/exchange/section_table.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// Of a comment "key: value"; empty where there is none.
std::string said_or_empty(const WrittenNumbers& text, std::string_view key);

// Formats go before one another so: what is asked, what a comment above the row says, what the
// text's head says, a float's pattern of 1 among them.
class WrittenValues {
public:
    WrittenValues(const WrittenNumbers& text, const CoefficientReading& reading);

    // Words without a format are whole numbers. Refused as value_of is.
    Expected<std::vector<ValueRow>> of(const std::vector<WrittenRow>& rows, bool are_taps);
    const std::optional<HeldWord>& words() const { return words_; } // of the last rows

    // Refused where words have no format, and where whole numbers are so large that they are words,
    // unless an a0 among them says their scale.
    Expected<void> check_scale(bool has_a0) const;

private:
    std::optional<HeldWord> format_of(const WrittenRow& row, bool are_taps) const;
    std::optional<HeldWord> whole(const WrittenNumber& cell);

    const CoefficientReading& reading_;
    std::optional<HeldWord> said_, words_;
    bool is_float_, all_whole_ = true;
    double greatest_ = 0;
    std::optional<WrittenNumber> without_format_;
};

} // namespace syntonon
