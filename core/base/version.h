// Which Syntonon this is, and what it was built from.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>

namespace syntonon {

std::string_view version(); // "1.0.0-rc1"
// The commit and its day, with "and changes since" where the sources had such; that it is not known
// where they say nothing.
std::string_view built_from();
// What `--version` says of a program.
std::string version_text(std::string_view program);

} // namespace syntonon
