// By what data are known again.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>

namespace syntonon {

// "xxh3-0123456789abcdef" of the bytes. Tells what changed, not what was forged.
std::string digest_of(std::string_view bytes);

} // namespace syntonon
