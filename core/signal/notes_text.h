// Notes as a line of text: "A2 0 1.5 0.8; C#4 0.25 1.5": a key by its name in scientific pitch
// notation (C4 is the middle C) or its number, when it begins and ends in seconds, its velocity.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/engine/notes.h"

#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// "A2", "C#4"; a key between whole numbers by its number.
std::string key_text(double key);
std::string notes_text(const std::vector<Note>& notes);

// What is not said of a note is as of the note before it. Refuses, naming the note, what is no key,
// times that do not ascend, a velocity that is none.
Expected<std::vector<Note>> notes_from_text(std::string_view text);
Expected<void> check_note(const Note& note); // without a place
inline constexpr std::size_t most_notes = 4096;
Expected<void> check_note_count(std::size_t count);

} // namespace syntonon
