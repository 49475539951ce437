// The fuzzer's way in; SYNTONON_FUZZ_TARGET names the target.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/fuzz/targets.h"

#include <cstddef>
#include <cstdint>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size);

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    syntonon::fuzz::SYNTONON_FUZZ_TARGET({reinterpret_cast<const char*>(data), size});
    return 0;
}
