// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/quantity.h"

#include "core/base/number_text.h"
#include "core/base/units.h"

#include <array>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <optional>
#include <span>
#include <string>

namespace syntonon {
namespace {

using Convert = double (*)(double, const QuantityContext&);

struct Unit {
    std::string_view name; // lower case
    Convert to_canonical;
};

double same(double v, const QuantityContext&) {
    return v;
}

constexpr std::array frequency_units = std::to_array<Unit>({
    {"rad/sample",
     [](double v, const QuantityContext& c) {
         return hz_from_rad_per_sample(v, c.sample_rate_hz);
     }},
    {"rad/s", [](double v, const QuantityContext&) { return hz_from_rad_per_s(v); }},
    {"nyquist",
     [](double v, const QuantityContext& c) { return v * nyquist_hz(c.sample_rate_hz); }},
    {"khz", [](double v, const QuantityContext&) { return v * 1e3; }},
    {"mhz", [](double v, const QuantityContext&) { return v * 1e6; }},
    {"hz", same},
    {"fs", [](double v, const QuantityContext& c) { return v * c.sample_rate_hz; }},
});
constexpr std::array level_units = std::to_array<Unit>({
    {"ratio", [](double v, const QuantityContext&) { return v > 0 ? db_from_ratio(v) : NAN; }},
    {"db", same},
});
constexpr std::array time_units = std::to_array<Unit>({
    {"samples",
     [](double v, const QuantityContext& c) { return seconds_from_samples(v, c.sample_rate_hz); }},
    {"sample",
     [](double v, const QuantityContext& c) { return seconds_from_samples(v, c.sample_rate_hz); }},
    {"ms", [](double v, const QuantityContext&) { return v * 1e-3; }},
    {"us", [](double v, const QuantityContext&) { return v * 1e-6; }},
    {"s", same},
});
constexpr std::array octave_units =
    std::to_array<Unit>({{"octaves", same}, {"octave", same}, {"oct", same}});
constexpr std::array angle_units = std::to_array<Unit>({
    {"deg", same},
    {"°", same},
    {"rad", [](double v, const QuantityContext&) { return deg_from_rad(v); }},
});

std::span<const Unit> units_of(Dimension dimension) {
    switch (dimension) {
    case Dimension::frequency:
        return frequency_units;
    case Dimension::level:
        return level_units;
    case Dimension::time:
        return time_units;
    case Dimension::octaves:
        return octave_units;
    case Dimension::angle:
        return angle_units;
    case Dimension::plain:
        break;
    }
    return {};
}

// Recursive descent over + - * / ( ). Remembers the first thing it could not read.
class Arithmetic {
public:
    explicit Arithmetic(std::string_view text) : rest_(text) {}

    std::optional<double> whole() {
        const double value = sum();
        skip_blanks();
        if (!failed_ && !rest_.empty()) {
            fail();
        }
        return failed_ ? std::nullopt : std::optional(value);
    }
    std::string_view unread() const { return unread_; }

private:
    static constexpr int deepest = 32; // nested parentheses and signs

    void skip_blanks() {
        rest_ = rest_.substr(std::min(rest_.find_first_not_of(" \t"), rest_.size()));
    }
    bool take(char c) {
        skip_blanks();
        if (rest_.empty() || rest_.front() != c) {
            return false;
        }
        rest_.remove_prefix(1);
        return true;
    }
    double fail() {
        if (!failed_) {
            failed_ = true;
            unread_ = rest_;
        }
        return 0;
    }
    double sum() {
        double value = product();
        while (!failed_) {
            if (take('+')) {
                value += product();
            } else if (take('-')) {
                value -= product();
            } else {
                break;
            }
        }
        return value;
    }
    double product() {
        double value = factor();
        while (!failed_) {
            if (take('*')) {
                value *= factor();
            } else if (take('/')) {
                value /= factor();
            } else {
                break;
            }
        }
        return value;
    }
    double factor() {
        if (++depth_ > deepest) {
            return fail();
        }
        double value = 0;
        if (take('-')) {
            value = -factor();
        } else if (take('+')) {
            value = factor();
        } else if (take('(')) {
            value = sum();
            if (!failed_ && !take(')')) {
                fail();
            }
        } else {
            value = number();
        }
        --depth_;
        return value;
    }
    double number() {
        skip_blanks();
        if (rest_.starts_with("pi")) {
            rest_.remove_prefix(2);
            return pi;
        }
        if (rest_.empty()
            || !(std::isdigit(static_cast<unsigned char>(rest_.front())) || rest_.front() == '.')) {
            return fail();
        }
        double value = 0;
        const auto [end, error] = std::from_chars(rest_.data(), rest_.data() + rest_.size(), value);
        if (error != std::errc{}) {
            return fail();
        }
        rest_.remove_prefix(static_cast<std::size_t>(end - rest_.data()));
        if (rest_.starts_with('k')) {
            rest_.remove_prefix(1);
            value *= 1e3;
        } else if (rest_.starts_with('m')) { // lower-cased "M"; milli has no use in these units
            rest_.remove_prefix(1);
            value *= 1e6;
        }
        return value;
    }

    std::string_view rest_;
    std::string_view unread_;
    bool failed_ = false;
    int depth_ = 0;
};

const Unit* take_unit(std::string& text, Dimension dimension) {
    for (const Unit& unit : units_of(dimension)) {
        if (text.ends_with(unit.name)) {
            text = trimmed(std::string_view(text).substr(0, text.size() - unit.name.size()));
            return &unit;
        }
    }
    return nullptr;
}

std::string known_units(Dimension dimension) {
    std::string list;
    for (const Unit& unit : units_of(dimension)) {
        list += (list.empty() ? "" : ", ") + std::string(unit.name);
    }
    return list.empty() ? "a plain number" : "a number with one of: " + list;
}

// Lower case, '.' as the decimal point, ASCII minus.
std::string normalised(std::string_view typed) {
    std::string text = lower_case(trimmed(typed));
    for (std::size_t at = text.find("−"); at != std::string::npos; at = text.find("−")) {
        text.replace(at, std::string_view("−").size(), "-");
    }
    for (char& c : text) {
        if (c == ',') {
            c = '.';
        }
    }
    return text;
}

} // namespace

Expected<double> parse_quantity(std::string_view typed, Dimension dimension,
                                const QuantityContext& context) {
    std::string text = normalised(typed);
    if (text.empty()) {
        return refuse("", "nothing typed", "type " + known_units(dimension));
    }
    const char lead = text.front();
    if (lead == 'x' || lead == '*' || lead == '/') {
        const std::string operand_text = text.substr(1);
        const auto operand = Arithmetic(operand_text).whole();
        if (!operand || *operand == 0 || !std::isfinite(*operand)) {
            return refuse("", fmt::format("“{}” is not a factor", typed),
                          "type for example x0.5 or /2");
        }
        return lead == '/' ? context.current / *operand : context.current * *operand;
    }
    const Unit* unit = take_unit(text, dimension);
    Arithmetic arithmetic(text);
    const auto value = arithmetic.whole();
    if (!value) {
        const std::string_view unread = arithmetic.unread();
        return refuse("",
                      unread.empty() ? fmt::format("“{}” ends too early", typed)
                                     : fmt::format("“{}” is not understood", unread),
                      "type " + known_units(dimension));
    }
    const double canonical = unit != nullptr ? unit->to_canonical(*value, context) : *value;
    if (!std::isfinite(canonical)) {
        return refuse("", fmt::format("“{}” has no finite value", typed), "type another number");
    }
    return canonical;
}

} // namespace syntonon
