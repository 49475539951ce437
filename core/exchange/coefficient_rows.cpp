// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/coefficient_rows.h"

#include "core/base/number_text.h"
#include "core/exchange/c_number.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

struct Scaled {
    double b0, b1, b2, a0, a1, a2, gain;
};

constexpr double Scaled::*member_of(Term term) {
    switch (term) {
    case Term::b0:
        return &Scaled::b0;
    case Term::b1:
        return &Scaled::b1;
    case Term::b2:
        return &Scaled::b2;
    case Term::a0:
        return &Scaled::a0;
    case Term::a1:
        return &Scaled::a1;
    case Term::a2:
        return &Scaled::a2;
    case Term::gain:
        return &Scaled::gain;
    }
    return nullptr;
}

Expected<Scaled> scaled(const Biquad& s, const CoefficientLayout& layout) {
    const double sign = layout.feedback == FeedbackSign::added ? -1 : 1;
    Scaled out{s.b0, s.b1, s.b2, 1, sign * s.a1, sign * s.a2, 1};
    if (layout.normalisation == Normalisation::b0_one) {
        if (s.b0 == 0) {
            return refuse("", "b0 is 0 and cannot be scaled to 1",
                          "choose the normalisation a0_one");
        }
        out.gain = s.b0;
        out.b0 = 1, out.b1 /= s.b0, out.b2 /= s.b0;
    } else if (layout.normalisation == Normalisation::a0_half) {
        for (double Scaled::*member :
             {&Scaled::b0, &Scaled::b1, &Scaled::b2, &Scaled::a0, &Scaled::a1, &Scaled::a2}) {
            out.*member /= 2;
        }
    }
    return out;
}

std::string number_text(double value, const CoefficientLayout& layout) {
    // A minus zero would read back as such and look like a deviation.
    value = value == 0 ? 0.0 : value;
    std::string text =
        layout.number == NumberType::real32
            ? fmt::format("{:.{}g}", static_cast<float>(value), std::min(layout.digits, 9))
            : text_with_digits(value, layout.digits);
    return layout.format == FileFormat::c_header
               ? c_literal(std::move(text), layout.number == NumberType::real32)
               : text;
}

bool fits(double value, const CoefficientLayout& layout) {
    return std::isfinite(layout.number == NumberType::real32 ? static_cast<float>(value) : value);
}

} // namespace

Expected<CoefficientRows> coefficient_rows(const Cascade& cascade,
                                           const CoefficientLayout& layout) {
    CoefficientRows rows;
    for (std::size_t i = 0; i < cascade.sections.size(); ++i) {
        const auto section = scaled(cascade.sections[i], layout);
        if (!section) {
            return tl::unexpected(within(fmt::format("section {}", i + 1), section.error()));
        }
        std::vector<std::string> row;
        for (const Term term : layout.order) {
            // Scaling, or a number type with a smaller range, may leave what no file can hold.
            const double value = (*section).*member_of(term);
            if (!fits(value, layout)) {
                return refuse(fmt::format("section {}", i + 1),
                              fmt::format("{} does not fit the number type {}", key_of(term),
                                          key_of(layout.number)),
                              "choose double, or the normalisation a0_one");
            }
            row.push_back(number_text((*section).*member_of(term), layout));
        }
        rows.push_back(std::move(row));
    }
    return rows;
}

Expected<std::vector<std::string>> tap_texts(const std::vector<double>& taps,
                                             const CoefficientLayout& layout) {
    std::vector<std::string> texts;
    texts.reserve(taps.size());
    for (const double tap : taps) {
        if (!fits(tap, layout)) {
            return refuse(fmt::format("tap {}", texts.size() + 1),
                          fmt::format("does not fit the number type {}", key_of(layout.number)),
                          "choose double");
        }
        texts.push_back(number_text(tap, layout));
    }
    return texts;
}

} // namespace syntonon
