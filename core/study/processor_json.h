// Processor profiles in JSON, in a study and as files of their own. Described in
// docs/file-formats.md.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/json.h"
#include "core/study/json_reader.h"
#include "core/study/study.h"
#include "core/word/processor.h"

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

Processor read_processor(ObjectReader object);
Json processor_json(const Processor& processor);

inline constexpr std::string_view processor_file_ending = ".syntonon-processor";

struct ProcessorFile {
    Processor processor;
    std::vector<std::string> warnings = {};
};
// Refuses, naming the path within it, what is no profile of this program or of a newer one, and
// what contradicts itself.
Expected<ProcessorFile> processor_from_json(std::string_view text);
std::string json_from_processor(const Processor& processor);
// The same with files; the problem's place starts with the path.
Expected<ProcessorFile> load_processor(const std::filesystem::path& path);
Expected<void> save_processor(const Processor& processor, const std::filesystem::path& path);
// A profile's file, or the id of one of the study or of those that come with the program. Refused
// with the ids of these.
Expected<Processor> processor_by_name(const Study& study, const std::string& name);

} // namespace syntonon
