// Transfers from a shell, into a simulated device in this process.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/processor.h"
#include "standin/device/device_server.h"
#include "tests/batch/batch_fixture.h"

#include <fmt/format.h>

namespace syntonon {
namespace {

class BatchTransfer : public test::Batch {
protected:
    void SetUp() override {
        Batch::SetUp();
        oca::DeviceShape shape;
        shape.processor = *shipped_processor("kestrel-board");
        auto started = oca::DeviceServer::start(shape);
        ASSERT_TRUE(started) << to_text(started.error());
        device = std::move(*started);
    }
    test::Call transfer(const std::string& more = {}) {
        return run(fmt::format("transfer {} --delivery rack --device 127.0.0.1:{} {}", study,
                               device->port(), more));
    }
    // Of the first output's first parametric object.
    float held_hz() {
        float hz = 0;
        device->with_objects([&](oca::DeviceObjects& objects) {
            for (const oca::SimulatedObject* object : objects.of_output(0)) {
                if (object->role == "Filter 1") {
                    hz = std::get<oca::ParametricSetting>(object->state->setting).frequency_hz;
                }
            }
        });
        return hz;
    }
    std::unique_ptr<oca::DeviceServer> device;
};

TEST_F(BatchTransfer, ADryRunListsAndSetsNothing) {
    const test::Call call = transfer("--dry-run");
    ASSERT_EQ(call.code, 0) << call.err;
    const auto lines = rows(call.out);
    ASSERT_GT(lines.size(), 8u);
    EXPECT_EQ(lines[0][0], "zenith");
    EXPECT_EQ(lines[0][2], "Output 1/Filter 1");
    EXPECT_EQ(lines[0][3], "no filter");
    EXPECT_NE(call.out.find("\"high-pass at 24 Hz, "), std::string::npos) << call.out;
    EXPECT_NE(call.out.find(", off\""), std::string::npos) << "unused classical objects";
    EXPECT_EQ(held_hz(), 1000) << "as when it was switched on";
}

TEST_F(BatchTransfer, SetsReadsBackAndSaysWhatCameOfIt) {
    const test::Call call = transfer();
    ASSERT_EQ(call.code, 0) << call.err;
    EXPECT_EQ(rows(call.out)[0][0], "Output 1/Mute");
    EXPECT_NE(call.out.find("Output 2/Filter 1,yes,"), std::string::npos) << call.out;
    EXPECT_NE(call.err.find("read back and compared"), std::string::npos) << call.err;
    EXPECT_EQ(held_hz(), 24);
    const test::Call again = transfer();
    EXPECT_EQ(again.code, 0);
    EXPECT_NE(again.err.find("the device holds it already"), std::string::npos) << again.err;
}

// Exit codes for build servers: 1 where the device did not take it, 2 where the call is wrong.
TEST_F(BatchTransfer, ARefusalEndsWith1AndLeavesTheDeviceAsItWas) {
    device->set_faults({{oca::FaultKind::refuse, 6}});
    const test::Call call = transfer();
    EXPECT_EQ(call.code, 1) << call.err;
    EXPECT_NE(call.err.find("the device is as it was before"), std::string::npos) << call.err;
    EXPECT_NE(call.out.find(",no,"), std::string::npos) << call.out;
    EXPECT_EQ(held_hz(), 1000);
}

TEST_F(BatchTransfer, WhatIsWrongEndsWith2) {
    EXPECT_EQ(run("transfer " + study + " --delivery nothing").code, 2);
    const test::Call no_address = run("transfer " + study + " --delivery table");
    EXPECT_EQ(no_address.code, 2);
    EXPECT_NE(no_address.err.find("--device host:port"), std::string::npos) << no_address.err;
    EXPECT_EQ(run("transfer " + study + " --delivery rack --device nowhere").code, 2);
    const std::uint16_t port = device->port();
    device.reset();
    const test::Call nobody =
        run(fmt::format("transfer {} --delivery rack --device 127.0.0.1:{}", study, port));
    EXPECT_EQ(nobody.code, 2) << nobody.err;
}

} // namespace
} // namespace syntonon
