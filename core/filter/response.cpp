// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/response.h"

#include <cassert>

namespace syntonon {

void Response::follow_with(const Response& next) {
    assert(next.size() == size());
    for (std::size_t i = 0; i < size(); ++i) {
        magnitude_db[i] += next.magnitude_db[i];
        phase_rad[i] += next.phase_rad[i];
        group_delay_samples[i] += next.group_delay_samples[i];
    }
}

void Response::repeat(double times) {
    for (std::size_t i = 0; i < size(); ++i) {
        magnitude_db[i] *= times;
        phase_rad[i] *= times;
        group_delay_samples[i] *= times;
    }
}

} // namespace syntonon
