// The text of filter/modelled's kernels, as it is handed over.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string_view>

namespace syntonon {

// All of them, in order, without their includes, as one text in the namespace “syntonon::modelled”.
// Made of the headers themselves when the program is built: see core/CMakeLists.txt.
std::string_view kernel_text();

} // namespace syntonon
