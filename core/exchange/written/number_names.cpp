// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/written/number_names.h"

#include "core/base/digits.h"
#include "core/base/number_text.h"
#include "core/exchange/written/number_pieces.h"

#include <algorithm>
#include <array>

namespace syntonon {
namespace {

bool is_word_letter(char c) {
    return is_digit(c) || (c >= 'a' && c <= 'z') || c == '_';
}

// "b0" to "a200", "gain", "b", "a", "taps", "rate"; empty of any other name.
std::string known_part(std::string_view part) {
    if (part.size() >= 2 && part.size() <= 4 && (part[0] == 'a' || part[0] == 'b')
        && std::ranges::all_of(part.substr(1), is_digit)) {
        return std::string(part);
    }
    if (part.size() >= 2 && part[0] == 'h' && std::ranges::all_of(part.substr(1), is_digit)) {
        return "taps";
    }
    struct Same {
        std::string_view name;
        std::array<std::string_view, 5> words;
    };
    static constexpr std::array<Same, 5> names = {{
        {"b", {"b", "numerator", "num", "feedforward", "zeros"}},
        {"a", {"a", "denominator", "den", "feedback", "poles"}},
        {"taps", {"taps", "tap", "fir", "impulse", "h"}},
        {"gain", {"gain", "scale", "gain", "gain", "gain"}},
        {"rate", {"rate", "samplerate", "fs", "rate", "rate"}},
    }};
    for (const Same& same : names) {
        if (std::ranges::find(same.words, part) != same.words.end()) {
            return std::string(same.name);
        }
    }
    return {};
}

} // namespace

std::string known_name(const std::vector<std::string>& words) {
    for (auto word = words.rbegin(); word != words.rend(); ++word) {
        std::string rest = lower_case(*word);
        while (!rest.empty()) {
            const auto joint = rest.rfind('_');
            const std::string part = joint == std::string::npos ? rest : rest.substr(joint + 1);
            const std::string before =
                joint == std::string::npos ? std::string() : rest.substr(0, joint);
            const bool is_index = std::ranges::all_of(part, is_digit)
                                  && (before == "a" || before == "b" || before.ends_with("_a")
                                      || before.ends_with("_b"));
            std::string known = known_part(is_index ? before.back() + part : part);
            if (!known.empty() && (words.size() == 1 || part.size() > 1)) {
                return known;
            }
            rest = before;
        }
    }
    return {};
}

bool is_term(std::string_view name) {
    return name == "gain" || (name.size() >= 2 && (name[0] == 'a' || name[0] == 'b'));
}

std::optional<std::string> rate_in(std::string_view comment) {
    const std::string text = lower_case(comment);
    for (const std::string_view name : {"sample rate", "sampling rate", "fs"}) {
        const auto at = text.find(name);
        if (at == std::string::npos || (at > 0 && is_word_letter(text[at - 1]))) {
            continue;
        }
        auto from = text.find_first_not_of(" :=", at + name.size());
        from = std::min(from, text.size());
        auto to = from;
        while (to < text.size() && (is_digit(text[to]) || text[to] == '.')) {
            ++to;
        }
        const auto number = number_from_text(std::string_view(text).substr(from, to - from));
        if (number && *number > 0) {
            const bool is_kilo = trimmed(std::string_view(text).substr(to)).starts_with("khz");
            return shortest_text(*number * (is_kilo ? 1000 : 1));
        }
    }
    return std::nullopt;
}

} // namespace syntonon
