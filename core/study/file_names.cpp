// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/file_names.h"

#include "core/base/number_text.h"
#include "core/filter/form.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <optional>

namespace syntonon {
namespace {

// The value of the first of these fields that the stage has.
std::optional<double> field_value(const StageSpec& spec,
                                  std::initializer_list<std::string_view> keys) {
    return std::visit(
        [&](const auto& s) -> std::optional<double> {
            for (const auto& field : fields_of(s)) {
                if (std::ranges::find(keys, field.key) != keys.end() && field.get(s)) {
                    return field.get(s);
                }
            }
            return std::nullopt;
        },
        *spec);
}

// Of all numbers whose key speaks of an edge, by ascending frequency; not the ends of the axis.
std::vector<double> edges_of(const StageSpec& spec, double end_hz) {
    std::vector<double> edges = std::visit(
        [](const auto& s) {
            std::vector<double> found;
            for (const auto& field : fields_of(s)) {
                const auto value = field.get(s);
                if (value && field.key.find("edges_hz") != std::string_view::npos) {
                    found.push_back(*value);
                }
            }
            for (const auto& row : number_rows(s)) {
                const bool is_edge = row.key == "band_from_hz" || row.key == "band_to_hz";
                for (std::size_t i = 0; is_edge && i < row.count(s); ++i) {
                    found.push_back(row.get(s, i));
                }
            }
            return found;
        },
        *spec);
    std::erase_if(edges, [&](double hz) { return hz <= 0 || hz >= end_hz; });
    std::ranges::sort(edges);
    edges.erase(std::unique(edges.begin(), edges.end()), edges.end());
    return edges;
}

std::string edges_text(const StageSpec& spec, double end_hz) {
    std::string text;
    for (const double hz : edges_of(spec, end_hz)) {
        text += (text.empty() ? "" : "-") + text_with_digits(hz, 6);
    }
    return text.empty() ? text : text + "hz";
}

std::string with_unit(std::optional<double> value, const char* unit) {
    return value ? text_with_digits(*value, 6) + unit : std::string();
}

// A '-' would be taken for a joint.
std::string gain_text(std::optional<double> db) {
    return !db ? std::string()
               : (*db < 0 ? "minus" : "plus") + text_with_digits(std::abs(*db), 6) + "db";
}

std::string kind_text(const StageSpec& spec) {
    const auto* fir = std::get_if<FirSpec>(&*spec);
    return fir != nullptr ? std::string(names_of_methods()[fir->method.index()].key)
                          : std::string(kind_of(spec));
}

std::string band_text(const StageSpec& spec) {
    if (const auto* fir = std::get_if<FirSpec>(&*spec)) {
        const auto* windowed = std::get_if<WindowedFir>(&fir->method);
        const bool has_band = tolerances_in_force(*fir) != nullptr
                              || (windowed != nullptr && windowed->by == WindowedFir::By::edges);
        return has_band ? std::string(title_of(band_of(*fir))) : std::string();
    }
    const auto* classical = std::get_if<ClassicalSpec>(&*spec);
    return classical != nullptr ? std::string(title_of(classical->band)) : std::string();
}

char as_in_a_name(char c) {
    const char low = c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    const bool may_stay = (low >= 'a' && low <= 'z') || (low >= '0' && low <= '9') || low == '.'
                          || low == '-' || low == '_';
    return may_stay ? low : '-';
}

bool is_joint(char c) {
    return c == '-' || c == '_' || c == '.';
}

// One joint where several meet, the first of them; none at the ends.
std::string tidied(const std::string& text) {
    std::string name;
    for (const char c : text) {
        if (!is_joint(c) || (!name.empty() && !is_joint(name.back()))) {
            name += c;
        }
    }
    while (!name.empty() && is_joint(name.back())) {
        name.pop_back();
    }
    return name;
}

std::string known_words(const FileWords& words) {
    std::string known;
    for (const FileWord& word : words) {
        known += (known.empty() ? "" : ", ") + std::string(word.name);
    }
    return known;
}

} // namespace

FileWords file_words(const Study& study, const Channel& channel, const Stage& stage,
                     const Filter& filter) {
    const auto* taps = std::get_if<Taps>(&filter.form());
    const StageSpec& spec = stage.spec;
    const double rate = study.sample_rate_hz;
    return {
        {"study", study.name},
        {"channel", channel.name},
        {"stage", title_of(stage)},
        {"kind", kind_text(spec)},
        {"band", band_text(spec)},
        {"edges", edges_text(spec, rate / 2)},
        {"frequency", with_unit(field_value(spec, {"frequency_hz"}), "hz")},
        {"gain", gain_text(field_value(spec, {"gain_db"}))},
        {"order", with_unit(field_value(spec, {"order"}), "")},
        {"length", taps != nullptr ? fmt::format("{}taps", taps->values().size()) : ""},
        {"rate", text_with_digits(rate, 8) + "hz"},
        {"attenuation",
         with_unit(field_value(spec, {"spec.stop_attenuation_db", "stop_attenuation_db"}), "db")}};
}

Expected<std::string> file_name(std::string_view pattern, const FileWords& words) {
    std::string text;
    while (!pattern.empty()) {
        if (pattern.front() != '{') {
            text += as_in_a_name(pattern.front());
            pattern.remove_prefix(1);
            continue;
        }
        const auto end = pattern.find('}');
        if (end == std::string_view::npos) {
            return refuse("", fmt::format("“{}” is left open", pattern), "end it with }");
        }
        const auto name = pattern.substr(1, end - 1);
        const auto word = std::ranges::find(words, name, &FileWord::name);
        if (word == words.end()) {
            return refuse("", fmt::format("“{}” is no word of file names", name),
                          "use " + known_words(words));
        }
        std::ranges::transform(word->text, std::back_inserter(text), as_in_a_name);
        pattern.remove_prefix(end + 1);
    }
    std::string name = tidied(text);
    if (name.empty()) {
        return refuse("", "the pattern leaves no name", "add a word that is not empty");
    }
    return name;
}

} // namespace syntonon
