// Writes the demo study, and the example of the manual: syntonon-make-demo FILE [LOW_PASS_FILE]
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/study_json.h"
#include "demo/aurora_low_pass.h"
#include "demo/brightwater.h"

#include <fmt/format.h>

namespace {

bool write(const syntonon::Study& study, const char* path) {
    const auto saved = syntonon::save_study(study, path);
    if (!saved) {
        fmt::print(stderr, "{}\n", syntonon::to_text(saved.error()));
    }
    return saved.has_value();
}

} // namespace

int main(int argc, char** argv) {
    constexpr int exit_wrong = 2;
    if (argc != 2 && argc != 3) {
        fmt::print(stderr, "call: syntonon-make-demo FILE [LOW_PASS_FILE]\n");
        return exit_wrong;
    }
    const bool done = write(syntonon::brightwater_study(), argv[1])
                      && (argc == 2 || write(syntonon::aurora_low_pass_study(), argv[2]));
    return done ? 0 : exit_wrong;
}
