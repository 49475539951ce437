// The study file: UTF-8 JSON, described in docs/file-formats.md.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/study/study.h"

#include <cstddef>
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

inline constexpr int study_version = 1;
inline constexpr std::size_t most_study_bytes = 128'000'000;

struct ReadStudy {
    Study study;
    std::vector<std::string> warnings; // one a key that this version does not know
};

// Refuses what does not fit the format, naming the path. Stages that cannot be designed and names
// of missing things do not keep a study from being read; see problems_of.
Expected<ReadStudy> study_from_json(std::string_view text);
std::string json_from_study(const Study& study);

// The same with files; the problem's place starts with the path. Saving is atomic.
Expected<ReadStudy> load_study(const std::filesystem::path& path);
Expected<void> save_study(const Study& study, const std::filesystem::path& path);

} // namespace syntonon
