// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/device_map.h"

#include "core/study/kinds.h"
#include "demo/brightwater.h"
#include "standin/device/device_objects.h"

#include <gtest/gtest.h>

namespace syntonon::oca {
namespace {

// As a controller reads it of a simulated device.
DeviceTree tree_of(const DeviceShape& shape) {
    const DeviceObjects objects(shape);
    DeviceTree tree;
    for (std::size_t i = 0; i < shape.outputs; ++i) {
        const SimulatedObject& block = *objects.object(objects.output(i));
        DeviceObject made;
        made.number = block.number;
        made.role = made.path = made.label = block.role;
        made.kind = Kind::block;
        tree.objects.push_back(made);
        for (const SimulatedObject* inner : objects.of_output(i)) {
            DeviceObject one;
            one.number = inner->number;
            one.role = one.label = inner->role;
            one.block = block.role;
            one.path = block.role + "/" + inner->role;
            one.kind = kind_of_class(inner->class_id);
            one.state = inner->state;
            tree.objects.push_back(one);
        }
    }
    return tree;
}

Stage stage_with(const char* id, StageSpec spec) {
    Stage stage;
    stage.id = id;
    stage.spec = std::move(spec);
    return stage;
}

class DeviceMap : public ::testing::Test {
protected:
    DeviceMap() {
        shape.processor = *shipped_processor("kestrel-board");
        Channel channel;
        channel.id = "one";
        channel.name = "One";
        study.channels = {SharedValue<Channel>(channel)};
        delivery.id = "rack";
        tree = tree_of(shape);
    }
    void add(const char* id, StageSpec spec) {
        study.channels[0].edit().stages.emplace_back(stage_with(id, std::move(spec)));
    }
    void propose() { delivery.device = proposed_target(study, delivery, tree, briefs); }
    MappedChannel mapped() { return map_to_device(study, delivery, tree, briefs).front(); }
    std::string problem_of(const MappedChannel& channel, std::size_t stage) {
        const auto& problem = channel.stages.at(stage).problem;
        return problem ? to_text(*problem) : std::string();
    }
    DeviceShape shape;
    DeviceTree tree;
    Study study;
    Delivery delivery;
    Briefs briefs;
};

TEST_F(DeviceMap, ProposesWhatIsMadeForAStage) {
    ClassicalSpec pass;
    pass.band = ClassicalBand::high_pass;
    pass.edges_hz[0] = 60;
    add("bell", parametric(ParametricShape::peak, 1000, -3, 2));
    add("pass", pass);
    add("gain", GainSpec{-6, false, {}});
    add("late", DelaySpec{DelayUnit::ms, 2});
    add("turn", GainSpec{0, true, {}});
    propose();
    const MappedChannel channel = mapped();
    ASSERT_TRUE(channel.fits());
    EXPECT_EQ(channel.block, "Output 1");
    const auto objects = [&](std::size_t i) { return channel.stages.at(i).objects; };
    using Paths = std::vector<std::string>;
    EXPECT_EQ(objects(0), Paths{"Output 1/Filter 1"});
    EXPECT_EQ(objects(1), Paths{"Output 1/Pass 1"});
    EXPECT_EQ(objects(2), Paths{"Output 1/Gain"});
    EXPECT_EQ(objects(3), Paths{"Output 1/Delay"});
    EXPECT_EQ(objects(4), Paths{"Output 1/Polarity"});
    EXPECT_EQ(std::get<ParametricSetting>(channel.stages[0].settings[0]).frequency_hz, 1000);
    EXPECT_EQ(std::get<DelaySetting>(channel.stages[3].settings[0]).seconds, 0.002f);
    EXPECT_EQ(std::ranges::count(channel.unused, "Output 1/Section 1"), 1);
    EXPECT_EQ(std::ranges::count(channel.unused, "Output 1/Filter 1"), 0);
    EXPECT_EQ(std::ranges::count(channel.unused, "Output 1/Mute"), 0);
}

TEST_F(DeviceMap, AnyCascadeTakesPolynomialsAndTapsAnFir) {
    ClassicalSpec elliptic;
    elliptic.family = ClassicalFamily::elliptic;
    elliptic.order = 6;
    add("steep", elliptic);
    add("taps", TapsSpec{std::make_shared<const std::vector<double>>(std::vector{0.5, 0.5})});
    propose();
    const MappedChannel channel = mapped();
    ASSERT_TRUE(channel.fits()) << problem_of(channel, 0);
    EXPECT_EQ(channel.stages[0].objects,
              (std::vector<std::string>{"Output 1/Section 1", "Output 1/Section 2",
                                        "Output 1/Section 3"}));
    EXPECT_EQ(channel.stages[1].objects, std::vector<std::string>{"Output 1/FIR"});
    EXPECT_EQ(std::get<FirSetting>(channel.stages[1].settings[0]).taps.size(), 2u);
}

TEST_F(DeviceMap, WhatFitsNowhereSaysWhy) {
    LoopSpec loop;
    loop.feedback = {0.5,
                     {SharedValue<Stage>(stage_with("d", DelaySpec{DelayUnit::samples, 100}))}};
    ClassicalSpec steep;
    steep.family = ClassicalFamily::elliptic;
    steep.order = 40;
    add("loop", loop);
    add("steep", steep);
    add("long", TapsSpec{std::make_shared<const std::vector<double>>(5000, 0.1)});
    propose();
    const MappedChannel channel = mapped();
    EXPECT_FALSE(channel.fits());
    for (std::size_t i = 0; i < 3; ++i) {
        EXPECT_TRUE(channel.stages[i].objects.empty());
        EXPECT_NE(problem_of(channel, i).find("no object"), std::string::npos);
    }
    delivery.device.channels[0].stages = {{"steep", {"Output 1/Section 1"}},
                                          {"long", {"Output 1/FIR"}},
                                          {"loop", {"Output 1/Section 2"}}};
    const MappedChannel forced = mapped();
    EXPECT_NE(problem_of(forced, 1).find("needs 20 polynomial objects"), std::string::npos)
        << problem_of(forced, 1);
    EXPECT_NE(problem_of(forced, 2).find("5000 are more than the 4096"), std::string::npos)
        << problem_of(forced, 2);
    EXPECT_FALSE(problem_of(forced, 0).empty());
}

TEST_F(DeviceMap, ChoicesOfTheStudyAreKept) {
    add("bell", parametric(ParametricShape::peak, 1000, -3, 2));
    add("more", parametric(ParametricShape::peak, 2000, -3, 2));
    propose();
    delivery.device.channels[0].block = "Output 3";
    delivery.device.channels[0].stages = {{"bell", {"Output 3/Section 5"}}};
    propose();
    EXPECT_EQ(delivery.device.channels[0].block, "Output 3");
    const MappedChannel channel = mapped();
    ASSERT_TRUE(channel.fits());
    EXPECT_EQ(channel.stages[0].objects, std::vector<std::string>{"Output 3/Section 5"});
    EXPECT_EQ(channel.stages[1].objects, std::vector<std::string>{"Output 3/Filter 1"});
}

TEST_F(DeviceMap, ContradictionsAreSaid) {
    add("bell", parametric(ParametricShape::peak, 1000, -3, 2));
    add("more", parametric(ParametricShape::peak, 2000, -3, 2));
    propose();
    auto& stages = delivery.device.channels[0].stages;
    stages[1].objects = stages[0].objects;
    EXPECT_NE(problem_of(mapped(), 1).find("used by another stage"), std::string::npos);
    stages[1].objects = {"Output 1/Gain"};
    EXPECT_NE(problem_of(mapped(), 1).find("cannot do this exactly"), std::string::npos);
    stages[1].objects = {"Output 1/Filter 99"};
    EXPECT_NE(problem_of(mapped(), 1).find("is not in the device"), std::string::npos);
    stages[1].objects = {"Output 2/Filter 1"};
    EXPECT_NE(problem_of(mapped(), 1).find("cannot be set for this output"), std::string::npos);
    study.sample_rate_hz = 44'100;
    stages[1].objects = {"Output 1/Section 1"};
    EXPECT_NE(problem_of(mapped(), 1).find("48000 Hz, the study at 44100"), std::string::npos)
        << problem_of(mapped(), 1);
    delivery.device.channels[0].block = "Output 9";
    EXPECT_TRUE(mapped().problem);
    delivery.device.channels.clear();
    EXPECT_TRUE(mapped().problem);
}

TEST_F(DeviceMap, TheDemosChannelsFindTheirOutputs) {
    study = brightwater_study();
    shape.outputs = 8;
    tree = tree_of(shape);
    for (DeviceObject& object : tree.objects) {
        object.label = object.path == "Output 5" ? "sunrise" : object.label;
    }
    delivery.channels = {"zenith", "sunrise", "docent"};
    propose();
    const auto all = map_to_device(study, delivery, tree, briefs);
    ASSERT_EQ(all.size(), 3u);
    EXPECT_EQ(all[0].block, "Output 1");
    EXPECT_EQ(all[1].block, "Output 5") << "by its label";
    EXPECT_EQ(all[2].block, "Output 2");
    for (const MappedChannel& channel : all) {
        EXPECT_TRUE(channel.fits()) << channel.name;
    }
}

TEST_F(DeviceMap, WhatIsInTheDeviceComesBackAsStages) {
    const auto set = [&](const char* path, Setting setting) {
        for (DeviceObject& object : tree.objects) {
            if (object.path == path) {
                object.state->setting = setting;
            }
        }
    };
    set("Output 2/Pass 1", ClassicalSetting{80, Passband::high_pass, ClassicalForm::bessel, 3, 0});
    set("Output 2/Filter 3", ParametricSetting{1000, ParametricForm::peak, 2, -3, 0});
    set("Output 2/Section 1", PolynomialSetting{{1, 0.5f}, {1, -0.5f}});
    set("Output 2/Mute", MuteSetting{true});
    const auto chain = chain_from_output(tree, "Output 2", 48'000);
    ASSERT_TRUE(chain) << to_text(chain.error());
    std::vector<std::string> names, ids;
    for (const auto& stage : *chain) {
        names.push_back(stage->name);
        EXPECT_EQ(std::ranges::count(ids, stage->id), 0) << "each its own id";
        ids.push_back(stage->id);
    }
    EXPECT_EQ(names, (std::vector<std::string>{"Pass 1", "Pass 2", "Filter 3", "Section 1"}));
    EXPECT_TRUE(std::holds_alternative<ClassicalSpec>(*(*chain)[0]->spec));
    set("Output 2/Pass 1", ClassicalSetting{80, Passband::band_pass, ClassicalForm::bessel, 3, 0});
    const auto refused = chain_from_output(tree, "Output 2", 48'000);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().place, "Output 2/Pass 1");
}

} // namespace
} // namespace syntonon::oca
