// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/version.h"

#include <fmt/format.h>

namespace syntonon {

std::string version_text(std::string_view program) {
    return fmt::format("{} {}, built from {}", program, version(), built_from());
}

} // namespace syntonon
