// Where the project and its programs are. Known to one file only, so that a compiler cache serves
// checkouts in other folders.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace syntonon::test {

std::string source_folder();
std::string demo_study(); // demo/brightwater.syntonon
std::string app_program();
std::string batch_program();

} // namespace syntonon::test
