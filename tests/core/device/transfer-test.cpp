// Transfers into a simulated device, whatever goes wrong with it.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/transfer.h"

#include "core/device/object_stages.h"
#include "tests/core/device/device_in_test.h"

#include <random>

namespace syntonon::oca {
namespace {

using Transfer = DeviceInTest;

TEST_F(Transfer, SetsWhatIsPlannedAndOpensAgain) {
    const auto wanted = plan();
    ASSERT_TRUE(wanted) << to_text(wanted.error());
    EXPECT_EQ(wanted->changes(), 1u + 3 + 1 + 1 + 2) << "two classical ones are switched off";
    EXPECT_TRUE(wanted->notes.empty());
    const TransferReport report = transfer(connect(), *wanted);
    EXPECT_EQ(report.end, TransferEnd::done) << (report.problem ? to_text(*report.problem) : "");
    EXPECT_EQ(report.objects, wanted->changes());
    EXPECT_EQ(report.taps, 3u);
    const auto now = held();
    for (const PlannedObject& object : wanted->objects) {
        EXPECT_LE(difference(object.after, now.at(object.number)), object.tolerance) << object.path;
    }
    EXPECT_EQ(now.at(wanted->mutes.at(0).number), Setting(MuteSetting{false}));
    EXPECT_EQ(plan()->changes(), 0u) << "equal in its word is no change";
    const TransferReport again = transfer(connect(), *plan());
    EXPECT_EQ(again.end, TransferEnd::done);
    EXPECT_TRUE(again.steps.empty()) << "nothing differs any more";
}

TEST_F(Transfer, WhatIsNotMappedIsSwitchedOff) {
    ASSERT_EQ(transfer(connect(), *plan()).end, TransferEnd::done);
    study.channels[0].edit().stages.resize(1);
    const auto less = plan();
    ASSERT_TRUE(less);
    EXPECT_EQ(transfer(connect(), *less).end, TransferEnd::done);
    for (const PlannedObject& object : less->objects) {
        const bool does_nothing = !object.will_be_enabled || is_idle(held().at(object.number));
        EXPECT_EQ(object.stage.empty(), does_nothing) << object.path;
    }
}

// A classical filter is never without effect, so it is not enabled where no stage is on it.
TEST_F(Transfer, EnablesWhatIsUsedAndNoOtherClassicalFilter) {
    ClassicalSpec pass;
    pass.band = ClassicalBand::high_pass;
    pass.edges_hz[0] = 60;
    add(study.channels[0].edit(), "pass", pass);
    device->with_objects([&](DeviceObjects& objects) {
        for (const SimulatedObject* object : objects.of_output(0)) {
            const bool starts_off = object->state && object->role.starts_with("Filter");
            if (starts_off) {
                objects.answer({1, object->number, method::set_enabled, {1, {0}}, true});
            }
        }
    });
    const auto enabled = [this](const std::string& role) {
        std::optional<bool> is_enabled;
        device->with_objects([&](DeviceObjects& objects) {
            for (const SimulatedObject* object : objects.of_output(0)) {
                is_enabled = object->role == role ? object->state->is_enabled : is_enabled;
            }
        });
        return is_enabled;
    };
    const auto wanted = plan();
    ASSERT_TRUE(wanted) << to_text(wanted.error());
    EXPECT_EQ(transfer(connect(), *wanted).end, TransferEnd::done);
    EXPECT_EQ(enabled("Pass 1"), true) << "the high-pass is on it";
    EXPECT_EQ(enabled("Pass 2"), false);
    EXPECT_EQ(enabled("Filter 1"), true) << "the bell is on it";
    EXPECT_EQ(enabled("Filter 2"), false) << "it was off, and stays so";
    EXPECT_EQ(plan()->changes(), 0u);

    ASSERT_EQ(transfer(connect(), way_back(*wanted, tree())).end, TransferEnd::done);
    EXPECT_EQ(enabled("Pass 2"), true) << "as it was before";
    EXPECT_EQ(enabled("Filter 1"), false);
}

TEST_F(Transfer, WhatIsOffFiltersNothing) {
    ASSERT_EQ(transfer(connect(), *plan()).end, TransferEnd::done);
    const auto stages = [this] { return chain_from_output(tree(), "Output 1", 48000)->size(); };
    EXPECT_EQ(stages(), 6u) << "bell, three sections, gain, taps";
    device->with_objects([](DeviceObjects& objects) {
        for (const SimulatedObject* object : objects.of_output(0)) {
            if (object->role == "Section 1") {
                objects.answer({1, object->number, method::set_enabled, {1, {0}}, true});
            }
        }
    });
    EXPECT_EQ(stages(), 5u);
}

TEST_F(Transfer, TheWayBackLeadsToWhatWasThereAndKnowsWhatIsThereNow) {
    const auto before = held();
    const auto wanted = plan();
    ASSERT_EQ(transfer(connect(), *wanted).end, TransferEnd::done);
    std::uint32_t gain = 0;
    for (const PlannedObject& object : wanted->objects) {
        gain = object.path == "Output 1/Gain" ? object.number : gain;
    }
    device->with_objects([&](DeviceObjects& objects) { // somebody else has turned it since
        std::vector<PropertyChange> changes;
        objects.set(gain, GainSetting{-40}, changes);
    });
    const TransferPlan back = way_back(*wanted, tree());
    const auto now = held();
    device->set_faults({{FaultKind::refuse, 3}});
    EXPECT_EQ(transfer(connect(), back, {}, short_patience).end, TransferEnd::rolled_back);
    EXPECT_EQ(held(), now);
    device->set_faults({});
    EXPECT_EQ(transfer(connect(), back).end, TransferEnd::done);
    EXPECT_EQ(held(), before);
}

TEST_F(Transfer, AnOutputThatWasMutedStaysMuted) {
    const auto muted = plan();
    device->with_objects([&](DeviceObjects& objects) {
        std::vector<PropertyChange> changes;
        objects.set(muted->mutes[0].number, MuteSetting{true}, changes);
    });
    const auto wanted = plan();
    EXPECT_TRUE(wanted->mutes[0].was_muted);
    EXPECT_EQ(transfer(connect(), *wanted).end, TransferEnd::done);
    EXPECT_EQ(held().at(wanted->mutes[0].number), Setting(MuteSetting{true}));
}

TEST_F(Transfer, ARefusalInTheMiddleLeavesTheDeviceAsItWas) {
    const auto wanted = plan();
    const auto before = held();
    device->set_faults({{FaultKind::refuse, 4}});
    const TransferReport report = transfer(connect(), *wanted, {}, short_patience);
    EXPECT_EQ(report.end, TransferEnd::rolled_back);
    ASSERT_TRUE(report.problem);
    EXPECT_NE(report.problem->place.find("Output 1/"), std::string::npos)
        << "by name: " << report.problem->place;
    EXPECT_EQ(held(), before);
}

TEST_F(Transfer, AStopLeavesTheDeviceAsItWas) {
    const auto wanted = plan();
    const auto before = held();
    const Watch watch;
    watch.stop();
    EXPECT_EQ(transfer(connect(), *wanted, watch).end, TransferEnd::rolled_back);
    EXPECT_EQ(held(), before);
}

// Whatever happens at whichever call, it is wholly new or wholly old, and open.
TEST_F(Transfer, EveryFaultAtEveryCallEndsWhollyNewOrWhollyOld) {
    const auto wanted = plan();
    ASSERT_TRUE(wanted);
    const auto before = states();
    ASSERT_EQ(transfer(connect(), *wanted).end, TransferEnd::done);
    const auto after = states();
    std::mt19937 random(7);
    for (int i = 0; i < 60; ++i) {
        device->with_objects([](DeviceObjects& objects) { objects.reset(); });
        std::vector<Fault> faults;
        for (int k = 0; k < 1 + i % 2; ++k) {
            faults.push_back({all_faults[random() % all_faults.size()],
                              static_cast<int>(1 + random() % 10), 400});
        }
        device->set_faults(faults);
        const TransferReport report = transfer(connect(), *wanted, {}, short_patience);
        const std::string what = fmt::format("{}: {}@{}", i, key_of(faults[0].kind), faults[0].at);
        ASSERT_NE(report.end, TransferEnd::unknown) << what << to_text(*report.problem);
        EXPECT_EQ(states(), report.end == TransferEnd::done ? after : before) << what;
        EXPECT_TRUE(report.left_muted.empty());
    }
}

TEST_F(Transfer, ADeviceThatIsGoneIsSaidToBeUnknown) {
    const auto wanted = plan();
    const Connect gone = [this] {
        return Controller::connect({"127.0.0.1", device->port()}, short_waits);
    };
    const std::uint16_t port = device->port();
    device.reset();
    const Connect nobody = [port] { return Controller::connect({"127.0.0.1", port}, short_waits); };
    const TransferReport report = transfer(nobody, *wanted, {}, {2, 10});
    EXPECT_EQ(report.end, TransferEnd::unknown);
    ASSERT_TRUE(report.problem);
    EXPECT_TRUE(report.left_muted.empty()) << "nothing was muted";
}

TEST_F(Transfer, WithoutMutingItGoesByRamps) {
    auto wanted = plan();
    wanted->mutes_outputs = false;
    wanted->ramp_ms = 40;
    const auto begin = std::chrono::steady_clock::now();
    const TransferReport report = transfer(connect(), *wanted);
    EXPECT_EQ(report.end, TransferEnd::done) << (report.problem ? to_text(*report.problem) : "");
    EXPECT_GE(std::chrono::steady_clock::now() - begin, std::chrono::milliseconds(6 * 40));
    for (const TransferStep& step : report.steps) {
        EXPECT_EQ(step.path.find("Mute"), std::string::npos);
    }
}

TEST_F(Transfer, AnOutputThatCannotBeMutedIsSaid) {
    DeviceTree without = tree();
    std::erase_if(without.objects, [](const DeviceObject& o) { return o.kind == Kind::mute; });
    delivery.device = proposed_target(study, delivery, without, briefs);
    const auto planned =
        plan_transfer(map_to_device(study, delivery, without, briefs), without, delivery.device);
    ASSERT_TRUE(planned);
    EXPECT_EQ(planned->notes.back(), "Output 1 has no mute: it sounds while it is set.");
}

TEST_F(Transfer, AStageThatFitsNowhereIsSaidBeforeAnythingIsSent) {
    study.channels[0].edit().stages.back().edit().spec =
        TapsSpec{std::make_shared<const std::vector<double>>(300, 0.1)};
    const auto refused = plan();
    ASSERT_FALSE(refused);
    EXPECT_NE(to_text(refused.error()).find("one, "), std::string::npos)
        << to_text(refused.error());
}

} // namespace
} // namespace syntonon::oca
