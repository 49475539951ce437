// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/places.h"

namespace syntonon::test {

std::string source_folder() {
    return SYNTONON_SOURCE_DIR;
}

std::string demo_study() {
    return source_folder() + "/demo/brightwater.syntonon";
}

std::string app_program() {
    return SYNTONON_PROGRAM_DIR "/syntonon";
}

std::string batch_program() {
    return SYNTONON_PROGRAM_DIR "/syntonon-batch";
}

} // namespace syntonon::test
