// What all files that use libsndfile share.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <memory>
#include <sndfile.h>
#include <string>

namespace syntonon {

using SoundFile = std::unique_ptr<SNDFILE, int (*)(SNDFILE*)>;

// Why the library refused, without its full stop; of a file that could not be opened: null.
inline std::string reason_of(SNDFILE* file) {
    std::string reason = sf_strerror(file);
    while (reason.ends_with('.')) {
        reason.pop_back();
    }
    return reason;
}

} // namespace syntonon
