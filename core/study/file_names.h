// Names for files by a pattern: "{channel}_{kind}_{band}_{edges}".
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/filter.h"
#include "core/study/study.h"

#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

struct FileWord {
    std::string_view name; // within braces
    std::string text;      // what stands for it; may be empty
};
using FileWords = std::vector<FileWord>;

// study, channel, stage (its title), kind (of an FIR its method), band, edges, frequency, gain,
// order, length, rate, attenuation. Those that a stage does not have are empty.
FileWords file_words(const Study& study, const Channel& channel, const Stage& stage,
                     const Filter& filter);

inline constexpr std::string_view usual_pattern =
    "{channel}_{kind}_{band}_{edges}_{attenuation}_{length}_{rate}";

// Lower case, with '-' for what is no letter, digit, point, '-' or '_'; a word that is empty goes
// with the '_' or '-' before it. Refuses a word that is not known, saying which are, braces that
// are left open, and a pattern that leaves nothing.
Expected<std::string> file_name(std::string_view pattern, const FileWords& words);

} // namespace syntonon
