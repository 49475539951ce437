// Sound files as the commands write them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "batch/commands.h"
#include "core/exchange/sound_stream.h"

namespace syntonon::batch {

// One that measures and counts what it writes.
class SoundOut {
public:
    static Expected<SoundOut> create(const SoundCoding& coding, const SoundShape& shape);

    Expected<void> write(std::span<const double> samples);
    // Closes the file, warns of what was cut, and reports: file,frames,channels,peak_dbfs,…
    Expected<void> finish(Output& out);

private:
    std::string path_;
    int channels_ = 1;
    std::unique_ptr<SoundWriter> writer_;
    std::int64_t frames_ = 0;
    double peak_ = 0;
};

// A number of seconds that the call gives as `option`.
Expected<double> seconds_from(const std::string& option, const std::string& text);

} // namespace syntonon::batch
