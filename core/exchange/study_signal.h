// The samples of a study's signals, files read and mixes mixed.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/watch.h"
#include "core/study/study.h"

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

struct StudySignal {
    std::vector<double> samples; // at the study's rate
    // What should be known of it: a file that has changed since it was chosen, one of which only a
    // part is taken, one that was converted. Each is a sentence.
    std::vector<std::string> remarks;
};

// `folder` is where the study lies: paths of files start there. Refuses, with a place in the study
// ("signals[2].to_hz"), what cannot be made, is not there, or mixes itself in; a file of another
// rate that was not asked to be converted; a file that cannot be read. A watch that is stopped ends
// it with a problem.
Expected<StudySignal> samples_of_signal(const Study& study, std::string_view id,
                                        const std::filesystem::path& folder,
                                        const Watch& watch = {});

} // namespace syntonon
