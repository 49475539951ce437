// Reading and writing whole files so that nothing is lost.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <cstddef>
#include <filesystem>
#include <string>
#include <string_view>

namespace syntonon {

// The file's bytes. Refuses what is not a regular file, cannot be opened, or is larger than
// `most_bytes` (before reading it). The problem's place is the path.
Expected<std::string> read_file(const std::filesystem::path& path, std::size_t most_bytes);

// What becomes of a symbolic link that stands where a file is written.
enum class Links {
    follow, // the file behind it gets the bytes: a study may be kept elsewhere
    replace // a file takes its place: nothing outside the folder is touched
};

// Writes to a temporary file beside `path`, flushes it to the disk and renames it over `path`, so a
// reader sees the old bytes or the new ones and a failure leaves the old ones. The permissions of
// an existing file are kept.
Expected<void> write_file_atomically(const std::filesystem::path& path, std::string_view bytes,
                                     Links links = Links::follow);

// The same in two steps, so that of several files all stand ready before the first takes its place.
// What is not put in place goes away with it.
class StagedFile {
public:
    // Written beside its place and flushed to the disk; what stands there is still as it was.
    static Expected<StagedFile> write(const std::filesystem::path& path, std::string_view bytes,
                                      Links links = Links::follow);
    StagedFile(StagedFile&& other) noexcept;
    StagedFile& operator=(StagedFile&&) = delete;
    ~StagedFile();
    Expected<void> put_in_place();

private:
    StagedFile(std::filesystem::path path, std::filesystem::path target, std::string staged);

    std::filesystem::path path_, target_;
    std::string staged_; // empty: nothing is left to take away
};

} // namespace syntonon
