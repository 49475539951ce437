// By what a file is known again when it is kept by name only.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <filesystem>
#include <string>

namespace syntonon {

// "xxh3-0123456789abcdef" of all its bytes, read piece by piece; known again while size and time of
// the file stay. Tells a changed file, not a forged one. Refuses what cannot be read.
Expected<std::string> digest_of_file(const std::filesystem::path& path);

} // namespace syntonon
