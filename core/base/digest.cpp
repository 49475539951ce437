// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/digest.h"

#include <fmt/format.h>
#include <xxhash.h>

namespace syntonon {

std::string digest_of(std::string_view bytes) {
    return fmt::format("xxh3-{:016x}", XXH3_64bits(bytes.data(), bytes.size()));
}

} // namespace syntonon
