// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/device/device_objects.h"

#include "core/device/oca/setting_numbers.h"
#include "standin/device/single_values.h"

#include <gtest/gtest.h>

namespace syntonon::oca {
namespace {

DeviceShape chip() {
    DeviceShape shape;
    shape.outputs = 1;
    shape.processor = *shipped_processor("reed-28"); // Q5.23
    return shape;
}

std::uint32_t number_of(const DeviceObjects& objects, std::string_view role) {
    for (const SimulatedObject* object : objects.of_output(0)) {
        if (object->role == role) {
            return object->number;
        }
    }
    ADD_FAILURE() << role;
    return 0;
}

TEST(DeviceObjectsTest, CoefficientsBecomeTheProcessorsWords) {
    DeviceObjects objects(chip());
    const std::uint32_t section = number_of(objects, "Section 1");
    std::vector<PropertyChange> changes;
    const PolynomialSetting wanted{{0.1f, 0.2f, 0.3f}, {1, -1.9f, 0.95f}};
    ASSERT_EQ(objects.set(section, wanted, changes), Status::ok);
    const auto& held = std::get<PolynomialSetting>(objects.object(section)->state->setting);
    const double off = difference(held, wanted);
    EXPECT_GT(off, 0);
    EXPECT_LE(off, std::exp2(-24)) << "half a step of Q5.23";
    EXPECT_EQ(changes.size(), 2u) << "A and B";
    EXPECT_EQ(objects.set(section, PolynomialSetting{{100}, {1}}, changes),
              Status::parameter_out_of_range);
    EXPECT_EQ(objects.set(section, PolynomialSetting{{1}, {2}}, changes), Status::parameter_error);
    EXPECT_EQ(std::get<PolynomialSetting>(objects.object(section)->state->setting), held)
        << "what is refused changes nothing";
    objects.reset();
    EXPECT_EQ(objects.object(section)->state->setting, Setting(PolynomialSetting{}));
}

// As other controllers do it.
TEST(DeviceObjectsTest, EveryPropertyIsSetByItself) {
    DeviceObjects objects(chip());
    const std::uint32_t filter = number_of(objects, "Filter 1");
    const auto call = [&](std::uint16_t index, Bytes bytes) {
        return objects.answer({1, filter, {4, index}, {1, std::move(bytes)}, true});
    };
    Writer frequency, gain;
    frequency.f32(250);
    gain.f32(-4.5f);
    const auto set = call(2, frequency.bytes());
    EXPECT_EQ(set.response.status, 0);
    ASSERT_EQ(set.changes.size(), 1u);
    EXPECT_EQ(set.changes[0].property, (PropertyId{4, 1}));
    EXPECT_EQ(call(4, {1}).response.status, 0);
    EXPECT_EQ(call(8, gain.bytes()).response.status, 0);
    EXPECT_EQ(objects.object(filter)->state->setting,
              Setting(ParametricSetting{250, ParametricForm::peak, 1, -4.5f, 0}));
    EXPECT_EQ(static_cast<Status>(call(4, {99}).response.status), Status::bad_format);
    EXPECT_EQ(static_cast<Status>(call(2, {1}).response.status), Status::bad_format);
    EXPECT_EQ(static_cast<Status>(call(12, {1}).response.status), Status::bad_method);
}

TEST(DeviceObjectsTest, OnlyWhatChangesIsTold) {
    const ParametricSetting before{1000, ParametricForm::peak, 2, -3, 0};
    ParametricSetting after = before;
    after.in_band_gain_db = -4;
    const auto changed = changed_values(before, after);
    ASSERT_EQ(changed.size(), 1u);
    EXPECT_EQ(changed[0].property, (PropertyId{4, 4}));
    EXPECT_TRUE(changed_values(before, before).empty());
    EXPECT_EQ(values_of(ClassicalSetting{}).size(), 5u);
    EXPECT_EQ(values_of(CurveSetting{{1}, {1}, {0}}).size(), 1u);
    ASSERT_EQ(values_of(FirSetting{{1}}).size(), 1u);
    EXPECT_EQ(values_of(FirSetting{{1}})[0].property, (PropertyId{4, 2}));
}

} // namespace
} // namespace syntonon::oca
