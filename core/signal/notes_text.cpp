// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/notes_text.h"

#include "core/base/number_text.h"

#include <array>
#include <cctype>
#include <cmath>
#include <fmt/format.h>
#include <optional>

namespace syntonon {
namespace {

constexpr std::array<std::string_view, 12> key_names = {"C",  "C#", "D",  "D#", "E",  "F",
                                                        "F#", "G",  "G#", "A",  "A#", "B"};
constexpr int keys_an_octave = 12;

// "Bb3" and "A#3" are one key.
std::optional<double> key_from(std::string_view word) {
    if (const auto number = number_from_text(word)) {
        return number;
    }
    constexpr std::array<int, 7> of_letter = {9, 11, 0, 2, 4, 5, 7}; // A to G
    const auto letter = word.empty() ? ' ' : std::toupper(static_cast<unsigned char>(word[0]));
    if (letter < 'A' || letter > 'G') {
        return std::nullopt;
    }
    double key = of_letter.at(static_cast<std::size_t>(letter - 'A'));
    word.remove_prefix(1);
    if (word.starts_with('#') || word.starts_with('b')) {
        key += word[0] == '#' ? 1 : -1;
        word.remove_prefix(1);
    }
    const auto octave = number_from_text(word);
    return octave && std::floor(*octave) == *octave
               ? std::optional(key + keys_an_octave * (*octave + 1))
               : std::nullopt;
}

std::vector<std::string_view> parted(std::string_view text, std::string_view at) {
    std::vector<std::string_view> parts;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find_first_of(at), text.size());
        if (const std::string_view part = trimmed(text.substr(0, end)); !part.empty()) {
            parts.push_back(part);
        }
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return parts;
}

constexpr const char* way_out = "write “A2 0 1.5 0.8”: key, begin and end in s, velocity";

Expected<Note> note_from(std::string_view text, const Note& before) {
    const auto words = parted(text, " \t");
    const auto key = key_from(words[0]);
    if (!key) {
        return refuse("", fmt::format("“{}” is not a key", words[0]),
                      "write a name as A2 or C#4, or a number from 0 to 127");
    }
    Note note = before;
    note.key = *key;
    const std::array<double*, 3> rest = {&note.from_s, &note.to_s, &note.velocity};
    if (words.size() > rest.size() + 1) {
        return refuse("", fmt::format("“{}” says too much", text), way_out);
    }
    for (std::size_t i = 1; i < words.size(); ++i) {
        const auto number = number_from_text(words[i]);
        if (!number) {
            return refuse("", fmt::format("“{}” is not a number", words[i]), way_out);
        }
        *rest.at(i - 1) = *number;
    }
    return note;
}

} // namespace

std::string key_text(double key) {
    const double whole = std::round(key);
    if (whole != key) {
        return shortest_text(key);
    }
    const int number = static_cast<int>(whole);
    return std::string(key_names.at(static_cast<std::size_t>(number % keys_an_octave)))
           + std::to_string(number / keys_an_octave - 1);
}

std::string notes_text(const std::vector<Note>& notes) {
    std::string text;
    for (const Note& note : notes) {
        text += (text.empty() ? "" : "; ")
                + fmt::format("{} {} {} {}", key_text(note.key), shortest_text(note.from_s),
                              shortest_text(note.to_s), shortest_text(note.velocity));
    }
    return text;
}

Expected<void> check_note(const Note& note) {
    if (!(note.key >= 0 && note.key <= greatest_key)) {
        return refuse("key", fmt::format("{} is not on the keyboard", note.key),
                      fmt::format("stay between 0 and {}", greatest_key));
    }
    if (!(note.from_s >= 0 && note.to_s > note.from_s && std::isfinite(note.to_s))) {
        return refuse("to_s", fmt::format("{} s to {} s is no time", note.from_s, note.to_s),
                      "let it end after it begins, at 0 s or later");
    }
    if (!(note.velocity > 0 && note.velocity <= 1)) {
        return refuse("velocity", fmt::format("{} is not one", note.velocity),
                      "give more than 0, up to 1");
    }
    return {};
}

Expected<void> check_note_count(std::size_t count) {
    if (count > most_notes) {
        return refuse("notes", fmt::format("are {}", count),
                      fmt::format("give up to {}", most_notes));
    }
    return {};
}

Expected<std::vector<Note>> notes_from_text(std::string_view text) {
    std::vector<Note> notes;
    for (const std::string_view part : parted(text, ";\n")) {
        auto note = note_from(part, notes.empty() ? Note() : notes.back());
        const auto ok = note ? check_note(*note) : tl::unexpected(note.error());
        if (!ok) {
            Problem problem = ok.error();
            problem.place = fmt::format("note {}", notes.size() + 1);
            return tl::unexpected(problem);
        }
        notes.push_back(*note);
    }
    if (auto ok = check_note_count(notes.size()); !ok) {
        return tl::unexpected(ok.error());
    }
    return notes;
}

} // namespace syntonon
