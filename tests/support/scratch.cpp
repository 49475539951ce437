// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/scratch.h"

#include <cstdlib>
#include <fstream>
#include <sstream>
#include <stdexcept>

namespace syntonon::test {

Scratch::Scratch() {
    std::string name = (std::filesystem::temp_directory_path() / "syntonon-test-XXXXXX").string();
    if (::mkdtemp(name.data()) == nullptr) {
        throw std::runtime_error("no folder for tests in " + name);
    }
    folder_ = name;
}

Scratch::~Scratch() {
    std::error_code ignored;
    std::filesystem::permissions(folder_, std::filesystem::perms::owner_all, ignored);
    std::filesystem::remove_all(folder_, ignored);
}

std::filesystem::path Scratch::write(std::string_view name, std::string_view bytes) const {
    const auto path = file(name);
    std::ofstream(path, std::ios::binary) << bytes;
    return path;
}

std::string bytes_of(const std::filesystem::path& path) {
    std::ostringstream bytes;
    bytes << std::ifstream(path, std::ios::binary).rdbuf();
    return bytes.str();
}

} // namespace syntonon::test
