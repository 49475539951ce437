// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/form_text.h"

#include "core/base/number_text.h"

#include <algorithm>
#include <array>
#include <ctemplate/template.h>
#include <fmt/format.h>
#include <memory>
#include <vector>

namespace syntonon {
namespace {

constexpr auto plain_names = std::to_array<std::string_view>(
    {"study", "channel", "delivery", "sample_rate_hz", "section_count", "tap_count",
     "delay_samples", "processor", "structure", "words", "rounding", "verdict", "digest"});
// Within which part what may stand.
struct Part {
    std::string_view name, inside; // empty: at the top
    std::vector<std::string_view> names;
};
const std::vector<Part>& parts() {
    static const std::vector<Part> all = {
        {"sections", "", {"number", "index", "b0", "b1", "b2", "a1", "a2", "a1_added", "a2_added"}},
        {"numbers", "sections", {"name", "value", "hexadecimal", "whole"}},
        {"taps", "", {"index", "value", "hexadecimal", "whole"}}};
    return all;
}

const Part* part_of(std::string_view name) {
    const auto found = std::ranges::find(parts(), name, &Part::name);
    return found == parts().end() ? nullptr : &*found;
}

Problem at_line(std::size_t line, std::string reason, std::string way_out) {
    return {fmt::format("form, line {}", line), std::move(reason), std::move(way_out)};
}

class FormCheck {
public:
    Expected<void> of(std::string_view form) {
        std::size_t line = 1;
        for (std::size_t at = 0; at < form.size();) {
            if (!form.substr(at).starts_with("{{")) {
                line += form[at] == '\n' ? 1 : 0;
                ++at;
                continue;
            }
            const auto end = form.find("}}", at);
            if (end == std::string_view::npos) {
                return tl::unexpected(at_line(line, "a marker is not closed", "end it with }}"));
            }
            const std::string_view marker = form.substr(at + 2, end - at - 2);
            if (auto ok = take(marker, line); !ok) {
                return ok;
            }
            line += static_cast<std::size_t>(std::ranges::count(marker, '\n'));
            at = end + 2;
        }
        if (!open_.empty()) {
            return tl::unexpected(at_line(
                open_.back().line, fmt::format("{{{{#{}}}}} is not closed", open_.back().name),
                fmt::format("write {{{{/{}}}}}", open_.back().name)));
        }
        return {};
    }

private:
    Expected<void> take(std::string_view marker, std::size_t line) {
        if (marker.starts_with('!')) {
            return {};
        }
        if (marker.starts_with('#')) {
            return open(trimmed(marker.substr(1)), line);
        }
        if (marker.starts_with('/')) {
            return close(trimmed(marker.substr(1)), line);
        }
        return name(marker, line);
    }
    Expected<void> open(std::string_view name, std::size_t line) {
        const Part* part = part_of(name);
        const std::string_view inside = open_.empty() ? std::string_view() : open_.back().name;
        if (part == nullptr || part->inside != inside) {
            return tl::unexpected(
                at_line(line, fmt::format("there is no part “{}” here", name),
                        inside.empty() ? "use sections or taps"
                                       : "numbers may stand in sections; close the part before"));
        }
        open_.push_back({part->name, line});
        return {};
    }
    Expected<void> close(std::string_view name, std::size_t line) {
        if (open_.empty() || open_.back().name != name) {
            return tl::unexpected(
                at_line(line, fmt::format("{{{{/{}}}}} closes what is not open", name),
                        open_.empty() ? std::string("take it away")
                                      : fmt::format("close {} first", open_.back().name)));
        }
        open_.pop_back();
        return {};
    }
    Expected<void> name(std::string_view name, std::size_t line) const {
        bool is_known = std::ranges::find(plain_names, name) != plain_names.end();
        for (const Open& each : open_) {
            const auto& names = part_of(each.name)->names;
            is_known = is_known || std::ranges::find(names, name) != names.end();
        }
        if (is_known) {
            return {};
        }
        std::string known = fmt::format("{}", fmt::join(plain_names, ", "));
        if (!open_.empty()) {
            known = fmt::format("{}", fmt::join(part_of(open_.back().name)->names, ", "));
        }
        return tl::unexpected(
            at_line(line, fmt::format("“{}” is not known here", name), "use " + known));
    }

    struct Open {
        std::string_view name;
        std::size_t line;
    };
    std::vector<Open> open_;
};

using Dictionary = ctemplate::TemplateDictionary;

void fill_number(Dictionary& dictionary, double value, const Arithmetic* how) {
    dictionary.SetValue("value", text_with_digits(value, 17));
    dictionary.SetValue("hexadecimal", how != nullptr ? word_hexadecimal(value, *how) : "");
    dictionary.SetValue(
        "whole", how != nullptr && how->is_fixed() ? std::to_string(whole_of(value, *how)) : "");
}

void fill_sections(Dictionary& dictionary, const DeliveredChannel& channel, const WordRows* rows) {
    const CoefficientSet set = set_of_words(channel);
    for (std::size_t i = 0; i < set.cascade.sections.size(); ++i) {
        const Biquad& s = set.cascade.sections[i];
        Dictionary* part = dictionary.AddSectionDictionary("sections");
        part->SetValue("number", std::to_string(i + 1));
        part->SetValue("index", std::to_string(i));
        for (const auto& [name, value] :
             {std::pair("b0", s.b0), std::pair("b1", s.b1), std::pair("b2", s.b2),
              std::pair("a1", s.a1), std::pair("a2", s.a2), std::pair("a1_added", 0 - s.a1),
              std::pair("a2_added", 0 - s.a2)}) {
            part->SetValue(name, text_with_digits(value, 17));
        }
        for (std::size_t k = 0; rows != nullptr && k < rows->titles.size(); ++k) {
            Dictionary* number = part->AddSectionDictionary("numbers");
            number->SetValue("name", rows->titles[k]);
            fill_number(*number, rows->rows[i][k], &channel.words->section_words);
        }
    }
    for (std::size_t k = 0; k < set.taps.size(); ++k) {
        Dictionary* part = dictionary.AddSectionDictionary("taps");
        part->SetValue("index", std::to_string(k));
        fill_number(*part, set.taps[k], channel.words ? &channel.words->tap_words : nullptr);
    }
}

} // namespace

Expected<void> check_form(std::string_view form) {
    return FormCheck().of(form);
}

Expected<std::string> form_text(const DeliveredChannel& channel, const std::string& delivery,
                                const std::string& form) {
    if (auto ok = check_form(form); !ok) {
        return tl::unexpected(ok.error());
    }
    const auto rows = channel.words ? word_rows(channel) : Expected<WordRows>(WordRows{});
    if (!rows) {
        return tl::unexpected(rows.error());
    }
    const std::unique_ptr<ctemplate::Template> made(
        ctemplate::Template::StringToTemplate(form, ctemplate::DO_NOT_STRIP));
    if (made == nullptr) {
        return refuse("form", "its markers cannot be read", "see the names in the manual");
    }
    Dictionary dictionary("delivery");
    dictionary.SetValue("study", channel.set.study);
    dictionary.SetValue("channel", channel.set.channel);
    dictionary.SetValue("delivery", delivery);
    dictionary.SetValue("sample_rate_hz", text_with_digits(channel.set.sample_rate_hz, 17));
    dictionary.SetValue("section_count", std::to_string(channel.set.cascade.sections.size()));
    dictionary.SetValue("tap_count", std::to_string(channel.set.taps.size()));
    dictionary.SetValue("delay_samples", std::to_string(channel.set.delay_samples));
    for (const auto& [key, value] : channel.set.about) {
        dictionary.SetValue(key, value);
    }
    fill_sections(dictionary, channel, channel.words ? &*rows : nullptr);
    std::string text;
    if (!made->Expand(&text, &dictionary)) {
        return refuse("form", "could not be filled in", "see the names in the manual");
    }
    return text;
}

} // namespace syntonon
