// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/setting_text.h"

#include "core/base/number_text.h"

#include <array>
#include <fmt/format.h>
#include <string_view>

namespace syntonon::oca {
namespace {

constexpr std::array<std::string_view, 9> form_words = {"off",        "peak",     "low shelf",
                                                        "high shelf", "low-pass", "high-pass",
                                                        "band-pass",  "all-pass", "notch"};
constexpr std::array<std::string_view, 6> passband_words = {"",          "high-pass", "low-pass",
                                                            "band-pass", "band-stop", "all-pass"};
constexpr std::array<std::string_view, 5> classical_words = {"", "Butterworth", "Bessel",
                                                             "Chebyshev", "Linkwitz-Riley"};
template <std::size_t count, class Enum>
std::string_view word_of(const std::array<std::string_view, count>& words, Enum value) {
    const auto place = static_cast<std::size_t>(value);
    return place < count ? words[place] : "a form of its own";
}

std::string words_for(const GainSetting& s) {
    return fmt::format("{:+.4g} dB", s.gain_db);
}
std::string words_for(const MuteSetting& s) {
    return s.is_muted ? "muted" : "open";
}
std::string words_for(const PolaritySetting& s) {
    return s.is_inverted ? "inverted" : "not inverted";
}
std::string words_for(const DelaySetting& s) {
    return time_text(s.seconds, 5);
}
std::string words_for(const ParametricSetting& s) {
    if (s.form == ParametricForm::none) {
        return "no filter";
    }
    return fmt::format("{} at {}, {:+.4g} dB, Q {:.4g}", word_of(form_words, s.form),
                       frequency_text(s.frequency_hz, 5), s.in_band_gain_db, s.width);
}
std::string words_for(const ClassicalSetting& s) {
    return fmt::format("{} {}, order {}, {}", word_of(classical_words, s.form),
                       word_of(passband_words, s.passband), s.order,
                       frequency_text(s.frequency_hz, 5));
}
std::string words_for(const PolynomialSetting& s) {
    return fmt::format("b {:.6g}; a {:.6g}", fmt::join(s.numerator, " "),
                       fmt::join(s.denominator, " "));
}
std::string words_for(const FirSetting& s) {
    return fmt::format("{} taps", s.taps.size());
}
std::string words_for(const CurveSetting& s) {
    return fmt::format("a curve of {} points", s.frequency_hz.size());
}

} // namespace

std::string text_of(const Setting& setting, bool is_enabled) {
    return text_of(setting) + (is_enabled ? "" : ", off");
}

std::string text_of(const Setting& setting) {
    return std::visit([](const auto& one) { return words_for(one); }, setting);
}

} // namespace syntonon::oca
