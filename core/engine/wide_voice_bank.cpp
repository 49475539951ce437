// Compiled with AVX2, and once more with AVX-512 (see core/CMakeLists.txt). The kernels stand in a
// namespace without a name here, so that nothing of what is compiled from them is seen outside.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/wide_voice_bank.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <variant>

namespace {
namespace wide {
namespace syntonon::modelled {
using namespace ::syntonon::modelled; // what a model is built of
}

#include "core/filter/modelled/ladder_filter_kernel.h"
#include "core/filter/modelled/state_variable_filter_kernel.h"

#include "core/engine/voice_bank_code.h"
} // namespace wide
} // namespace

namespace syntonon {

#if defined(__AVX512F__)
std::unique_ptr<VoiceBank> widest_bank(const FilterModel& model, double sample_rate_hz) {
#else
std::unique_ptr<VoiceBank> wide_bank(const FilterModel& model, double sample_rate_hz) {
#endif
    return wide::made_bank(model, sample_rate_hz);
}

} // namespace syntonon
