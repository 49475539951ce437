// One stage as a file of its own, to be put into any study. Described in docs/file-formats.md.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/study/stage.h"

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

inline constexpr std::string_view stage_file_ending = ".syntonon-stage";

struct StageFile {
    Stage stage;
    double sample_rate_hz = 48000; // of the study that it comes from
    std::vector<std::string> warnings = {};
};

// Refuses, naming the path within it, what is no stage of this program or of a newer one.
Expected<StageFile> stage_from_json(std::string_view text);
std::string json_from_stage(const Stage& stage, double sample_rate_hz);

// The same with files; the problem's place starts with the path.
Expected<StageFile> load_stage(const std::filesystem::path& path);
Expected<void> save_stage(const Stage& stage, double sample_rate_hz,
                          const std::filesystem::path& path);

} // namespace syntonon
