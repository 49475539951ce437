// A folder of a test's own, removed when the test ends.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

namespace syntonon::test {

class Scratch {
public:
    Scratch();
    ~Scratch();
    Scratch(const Scratch&) = delete;
    Scratch& operator=(const Scratch&) = delete;

    const std::filesystem::path& folder() const { return folder_; }
    std::filesystem::path file(std::string_view name) const { return folder_ / name; }
    // Writes a file and returns its path.
    std::filesystem::path write(std::string_view name, std::string_view bytes) const;

private:
    std::filesystem::path folder_;
};

std::string bytes_of(const std::filesystem::path& path);

} // namespace syntonon::test
