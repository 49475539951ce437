// Writes the demo study: syntonon-make-demo FILE
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/study_json.h"
#include "demo/brightwater.h"

#include <fmt/format.h>

int main(int argc, char** argv) {
    if (argc != 2) {
        fmt::print(stderr, "call: syntonon-make-demo FILE\n");
        return 2;
    }
    if (const auto saved = syntonon::save_study(syntonon::brightwater_study(), argv[1]); !saved) {
        fmt::print(stderr, "{}\n", syntonon::to_text(saved.error()));
        return 2;
    }
    return 0;
}
