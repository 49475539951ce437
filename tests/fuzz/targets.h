// What is done with bytes from anywhere: each target reads them as one thing and, when they can be
// read, uses what was read and checks what must then hold. A broken promise ends the program.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string_view>

namespace syntonon::fuzz {

void study(std::string_view bytes);
void curve_text(std::string_view bytes);
void target_text(std::string_view bytes);
void coefficients(std::string_view bytes);
void quantity(std::string_view bytes);
void transfer(std::string_view bytes);
void taps(std::string_view bytes);
void found(std::string_view bytes);
void sound(std::string_view bytes);
void stage(std::string_view bytes);
void processor(std::string_view bytes);
void recording(std::string_view bytes);
void device(std::string_view bytes); // what a device or a controller is sent

struct Target {
    const char* name; // of its folder in corpus/
    void (*run)(std::string_view bytes);
};
inline constexpr Target all_targets[] = {{"study", study},
                                         {"curve_text", curve_text},
                                         {"target_text", target_text},
                                         {"coefficients", coefficients},
                                         {"quantity", quantity},
                                         {"transfer", transfer},
                                         {"taps", taps},
                                         {"found", found},
                                         {"sound", sound},
                                         {"stage", stage},
                                         {"processor", processor},
                                         {"recording", recording},
                                         {"device", device}};

// Says which promise was broken and ends the program.
void promise(bool kept, const char* what);

} // namespace syntonon::fuzz
