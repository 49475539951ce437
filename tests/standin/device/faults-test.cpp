// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/device/faults.h"

#include <gtest/gtest.h>

namespace syntonon::oca {
namespace {

TEST(Faults, AreReadFromText) {
    EXPECT_EQ(fault_from_text("drop@3"), (Fault{FaultKind::drop, 3, 500}));
    EXPECT_EQ(fault_from_text("delay@5:400"), (Fault{FaultKind::delay, 5, 400}));
    for (const FaultKind kind : all_faults) {
        EXPECT_EQ(fault_from_text(std::string(key_of(kind)) + "@1")->kind, kind);
    }
    for (const char* bad : {"", "drop", "drop@", "drop@0", "drop@x", "drop@-1", "fall@3",
                            "delay@5:", "delay@5:x", "delay@5:0"}) {
        const auto fault = fault_from_text(bad);
        ASSERT_FALSE(fault) << bad;
        EXPECT_FALSE(fault.error().way_out.empty()) << bad;
    }
}

} // namespace
} // namespace syntonon::oca
