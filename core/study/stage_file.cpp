// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/stage_file.h"

#include "core/base/file.h"
#include "core/study/stage_json.h"
#include "core/study/study_json.h"

#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::string_view stage_format = "syntonon-stage";
constexpr int stage_version = 1;

} // namespace

Expected<StageFile> stage_from_json(std::string_view text) {
    const auto json = checked_json(text);
    if (!json) {
        return tl::unexpected(json.error());
    }
    ReadLog log;
    ObjectReader object(*json, "", log);
    check_head(object, stage_format, stage_version);
    StageFile file;
    if (!log.problem) {
        file.sample_rate_hz = read_sample_rate(object);
        // As the list of one stage, so that the ids of what it holds are checked, too.
        Chain stages = read_stages(object);
        if (stages.size() != 1) {
            log.fail(
                {"stages", fmt::format("are {}, not one", stages.size()), "save one stage a file"});
        } else {
            file.stage = *stages[0];
        }
        object.unknown();
    }
    if (log.problem) {
        return tl::unexpected(std::move(*log.problem));
    }
    file.warnings = std::move(log.warnings);
    return file;
}

std::string json_from_stage(const Stage& stage, double sample_rate_hz) {
    Json object;
    object.set("format", stage_format);
    object.set("version", stage_version);
    object.set("sample_rate_hz", sample_rate_hz);
    object.set("stages", chain_json({SharedValue<Stage>(stage)}));
    return object.text() + "\n";
}

Expected<StageFile> load_stage(const std::filesystem::path& path) {
    const auto bytes = read_file(path, most_study_bytes);
    if (!bytes) {
        return tl::unexpected(bytes.error());
    }
    auto read = stage_from_json(*bytes);
    return read ? read : tl::unexpected(in_file(path.string(), read.error()));
}

Expected<void> save_stage(const Stage& stage, double sample_rate_hz,
                          const std::filesystem::path& path) {
    return write_file_atomically(path, json_from_stage(stage, sample_rate_hz));
}

} // namespace syntonon
