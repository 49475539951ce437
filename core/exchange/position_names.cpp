// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/position_names.h"

#include "core/base/number_text.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::string_view parting = " ,;-_";

bool parts(char c) {
    return parting.find(c) != std::string_view::npos;
}

std::string tidy(std::string_view text) {
    while (!text.empty() && parts(text.front())) {
        text.remove_prefix(1);
    }
    while (!text.empty() && parts(text.back())) {
        text.remove_suffix(1);
    }
    std::string made(text);
    std::ranges::replace(made, '_', ' ');
    return made;
}

std::string lower_tidy(std::string_view text) {
    return lower_case(tidy(text));
}

// How long the known channel's name is at the begin (or the end) of the name; 0: it is not there.
std::size_t length_of(const std::string& channel, std::string_view name, bool first) {
    const std::size_t length = channel.size();
    if (length == 0 || length > name.size()) {
        return 0;
    }
    const std::string_view part =
        first ? name.substr(0, length) : name.substr(name.size() - length);
    if (lower_tidy(part) != lower_tidy(channel)) {
        return 0;
    }
    const bool alone =
        length == name.size() || parts(first ? name[length] : name[name.size() - length - 1]);
    return alone ? length : 0;
}

struct Known {
    const std::string* channel = nullptr;
    std::size_t length = 0;
};
Known known_channel(std::string_view name, bool first, std::span<const std::string> channels) {
    Known best;
    for (const std::string& channel : channels) {
        const std::size_t length = length_of(channel, name, first);
        best = length > best.length ? Known{&channel, length} : best;
    }
    return best;
}

PositionName with_position(std::string channel, std::string_view rest) {
    std::string position = tidy(rest);
    return {std::move(channel), position.empty() ? "position" : std::move(position)};
}

} // namespace

PositionName position_name(std::string_view name, NameRule rule,
                           std::span<const std::string> channels) {
    while (!name.empty() && parts(name.front())) {
        name.remove_prefix(1);
    }
    while (!name.empty() && parts(name.back())) {
        name.remove_suffix(1);
    }
    if (rule == NameRule::position_only) {
        return with_position("", name);
    }
    if (rule == NameRule::channel_only) {
        const Known known = known_channel(name, true, channels);
        const bool is_whole = known.channel != nullptr && known.length == name.size();
        return with_position(is_whole ? *known.channel : tidy(name), "");
    }
    const bool first = rule == NameRule::channel_first;
    if (const Known known = known_channel(name, first, channels); known.channel != nullptr) {
        return with_position(*known.channel, first ? name.substr(known.length)
                                                   : name.substr(0, name.size() - known.length));
    }
    const std::size_t at = first ? name.find_first_of(parting) : name.find_last_of(parting);
    if (at == std::string_view::npos) {
        return with_position("", name);
    }
    return first ? with_position(tidy(name.substr(0, at)), name.substr(at))
                 : with_position(tidy(name.substr(at)), name.substr(0, at));
}

NameRule likely_rule(std::span<const std::string> names, std::span<const std::string> channels) {
    const auto known = [&](bool first) {
        return std::ranges::count_if(names, [&](const std::string& name) {
            return known_channel(name, first, channels).channel != nullptr;
        });
    };
    const auto half = static_cast<std::ptrdiff_t>((names.size() + 1) / 2);
    if (known(true) >= half || known(false) >= half) {
        return known(false) > known(true) ? NameRule::position_first : NameRule::channel_first;
    }
    const auto with_words = std::ranges::count_if(names, [](const std::string& name) {
        return tidy(name).find_first_of(parting) != std::string::npos;
    });
    return names.size() > 1 && with_words >= half ? NameRule::channel_first
                                                  : NameRule::position_only;
}

bool comes_before(std::string_view a, std::string_view b) {
    const auto digit = [](char c) { return c >= '0' && c <= '9'; };
    std::size_t i = 0, k = 0;
    while (i < a.size() && k < b.size()) {
        if (digit(a[i]) && digit(b[k])) {
            const auto number = [&](std::string_view text, std::size_t& at) {
                while (at < text.size() && text[at] == '0') {
                    ++at;
                }
                const std::size_t from = at;
                while (at < text.size() && digit(text[at])) {
                    ++at;
                }
                return text.substr(from, at - from);
            };
            const std::string_view x = number(a, i), y = number(b, k);
            if (x != y) {
                return x.size() != y.size() ? x.size() < y.size() : x < y;
            }
            continue;
        }
        const auto x = std::tolower(static_cast<unsigned char>(a[i]));
        const auto y = std::tolower(static_cast<unsigned char>(b[k]));
        if (x != y) {
            return x < y;
        }
        ++i;
        ++k;
    }
    return a.size() - i < b.size() - k;
}

std::string free_name(std::string_view wish, std::span<const std::string> taken) {
    std::string name(wish);
    for (int n = 2; std::ranges::find(taken, name) != taken.end(); ++n) {
        name = fmt::format("{} ({})", wish, n);
    }
    return name;
}

std::string next_position_name(std::string_view name) {
    const std::size_t last = name.find_last_not_of("0123456789");
    const std::size_t begin = last == std::string_view::npos ? 0 : last + 1;
    unsigned number = 0;
    const auto read = std::from_chars(name.data() + begin, name.data() + name.size(), number);
    if (begin < name.size() && read.ec == std::errc()) {
        return fmt::format("{}{}", name.substr(0, begin), number + 1);
    }
    const bool letter = !name.empty() && name.back() >= 'A' && name.back() < 'Z'
                        && (name.size() == 1 || name[name.size() - 2] == ' ');
    std::string next(name);
    if (letter) {
        ++next.back();
    }
    return next;
}

} // namespace syntonon
