// A section at work in a processor's words, to the last bit.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/arithmetic.h"
#include "core/word/structure.h"
#include "core/word/wide.h"

#include <array>
#include <cstdint>
#include <span>
#include <variant>
#include <vector>

namespace syntonon {

// In whole numbers.
class FixedSection {
public:
    FixedSection(const Network& network, std::span<const double> values, const Arithmetic& how);
    // A value of the data word in, one out.
    double step(double x) noexcept;
    void reset() noexcept;
    std::span<std::int64_t> states() { return std::span(signals_).subspan(1, next_.size()); }
    // The error that is fed back, in the accumulator's steps.
    std::int64_t& error() { return error_; }
    std::int64_t overflows() const { return overflows_; } // so far

private:
    struct Product {
        std::int64_t factor;
        std::size_t signal;
        int places; // by which it is shifted down into the accumulator
    };
    struct Sum {
        std::vector<Product> products;
        bool feeds_error_back;
    };
    std::int64_t sum_up(const Sum& sum) noexcept;

    Arithmetic how_;
    double into_ = 1, out_of_ = 1;
    int to_state_ = 0, to_data_ = 0;
    std::vector<Sum> sums_;
    std::vector<std::size_t> next_; // signals
    std::size_t output_ = 0;        // a signal
    // The input, the states, the sums; in steps of their words.
    std::vector<std::int64_t> signals_, after_;
    std::int64_t error_ = 0, overflows_ = 0;
};

// In floats.
class FloatingSection {
public:
    FloatingSection(const Network& network, std::span<const double> values, const Arithmetic& how);
    double step(double x) noexcept;
    void reset() noexcept;
    std::span<double> states() { return std::span(signals_).subspan(1, next_.size()); }

private:
    struct Product {
        double factor;
        std::size_t signal;
        bool is_alone;
    };
    std::vector<std::vector<Product>> sums_;
    std::vector<std::size_t> next_;
    std::size_t output_ = 0;
    std::vector<double> signals_, after_;
    bool short_sum_ = false, short_state_ = false, short_data_ = false;
};

// Either. The values are words already (see nearest_words); error feedback belongs to fixed words.
class SectionInWords {
public:
    SectionInWords(Structure structure, const StructuredSection& section, const Arithmetic& how);
    double step(double x) noexcept {
        auto* fixed_one = std::get_if<FixedSection>(&section_);
        return fixed_one != nullptr ? fixed_one->step(x)
                                    : std::get_if<FloatingSection>(&section_)->step(x);
    }
    void reset() noexcept {
        if (auto* fixed_one = std::get_if<FixedSection>(&section_)) {
            fixed_one->reset();
        } else {
            std::get_if<FloatingSection>(&section_)->reset();
        }
    }
    std::int64_t overflows() const;
    // Null where it works in floats.
    FixedSection* fixed() { return std::get_if<FixedSection>(&section_); }

private:
    std::variant<FixedSection, FloatingSection> section_;
};

} // namespace syntonon
