// A study's file together with the impulse responses that are kept beside it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/study_json.h"

#include <filesystem>

namespace syntonon {

// As load_study, and reads what lies beside it: its paths start at the study's folder. A file that
// is missing, cannot be read or has changed since is a warning that names it and the way out; the
// curve then stays as it was worked out last.
Expected<ReadStudy> open_study(const std::filesystem::path& path);

// As save_study. Of one that keeps impulse responses beside it they are written first, each as a
// WAV file of 64-bit floats in the folder "<name of the file> responses"; one that is there already
// and holds the same is left alone.
Expected<void> save_study_and_responses(const Study& study, const std::filesystem::path& path);

} // namespace syntonon
