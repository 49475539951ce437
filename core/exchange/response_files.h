// Impulse responses in files of their own, beside the study that they belong to.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/study.h"

#include <filesystem>
#include <string>
#include <vector>

namespace syntonon {

// Writes it as a WAV file of 64-bit floats, or leaves one alone that holds the same; what a curve
// says of it then. `name` is its path from `folder`, which is made where it is missing.
Expected<ImpulseFile> write_response(const std::filesystem::path& folder, const std::string& name,
                                     const ImpulseResponse& impulse);

// Of a study that is written again and again: each response is written once.
class ResponseFiles {
public:
    // In the folder `name` of `folder`.
    ResponseFiles(std::filesystem::path folder, std::string name);

    // The study as it is written: long responses are left out of it and named. Files that it no
    // longer needs are removed by remove_unused() only: the copy before may still name them.
    Expected<Study> kept_apart(Study study);
    void remove_unused();
    void remove_all();

private:
    struct Kept {
        SharedValue<Measurement> measured; // as it is in the study
        ImpulseFile file;
        bool is_used = true;
    };
    Expected<Kept*> kept(const SharedValue<Measurement>& measured);

    std::filesystem::path folder_;
    std::string name_;
    std::vector<Kept> kept_;
    int written_ = 0;
};

} // namespace syntonon
