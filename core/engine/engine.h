// What runs filters in real time.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/computation.h"

#include <cstddef>

namespace syntonon {

class Engine : public Computation {
public:
    // By which the output comes later than the filter's own response says.
    virtual std::size_t added_latency() const noexcept { return 0; }
};

} // namespace syntonon
