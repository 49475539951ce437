// What is handed over.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/unknown_keys.h"
#include "core/study/layout.h"

#include <string>
#include <vector>

namespace syntonon {

// A set of files, one a channel, in one layout.
struct Delivery {
    std::string id;
    std::string name;                  // goes into the file names
    std::vector<std::string> channels; // ids; empty: all sampled channels
    CoefficientLayout layout;
    UnknownKeys unknown;

    bool operator==(const Delivery&) const = default;
};

} // namespace syntonon
