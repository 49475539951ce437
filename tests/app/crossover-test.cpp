// A crossover written into channels, kept linked, aligned and looked at off axis.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/crossover_commands.h"
#include "app/model/stage_commands.h"
#include "app/panes/crossover/crossover_page.h"
#include "app/panes/trim/crossover_trim.h"
#include "app/widgets/field.h"
#include "app/widgets/quantity_edit.h"
#include "core/study/kinds.h"

#include <QCheckBox>
#include <QComboBox>
#include <QPushButton>
#include <algorithm>

namespace syntonon {
namespace {

class Crossing : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        session().select_channel(3); // Docent
        session().edit_channel("Start anew", [](Channel& channel) { channel.stages.clear(); });
        add_stage(session(), CrossoverSpec{});
        QApplication::processEvents();
    }
    CrossoverPage& page() {
        return dynamic_cast<CrossoverPage&>(*window->shape().upper()->page(ShapeDesk::crossover));
    }
    CrossoverTrim& strip() { return dynamic_cast<CrossoverTrim&>(*window->trim()->panel()); }
    const CrossoverSpec& spec() { return *selected_crossover(session()); }
    static void type_into(QuantityEdit* edit, const char* text) {
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
        QApplication::processEvents();
    }
    void give_new_channel(int way) {
        choose_item(page().channel_of_way(way), page().channel_of_way(way)->count() - 1);
    }
    const Channel* channel_named(const std::string& name) {
        const auto& all = session().study().channels;
        const auto found =
            std::ranges::find(all, name, [](const auto& channel) { return channel->name; });
        return found != all.end() ? &**found : nullptr;
    }
};

TEST_F(Crossing, WaysGoIntoChannelsAndStayLinked) {
    EXPECT_EQ(window->shape().upper()->shown_page(), ShapeDesk::crossover) << "a new one shows it";
    EXPECT_EQ(page().words(), "1 of 2 ways have no channel");
    choose_item(strip().ways(), 1);
    EXPECT_EQ(spec().frequencies_hz, (std::vector<double>{2000, 8000}));
    give_new_channel(2);
    give_new_channel(3);
    EXPECT_EQ(session().channel()->name, "Docent") << "one goes on where one was";
    ASSERT_NE(channel_named("Mid"), nullptr);
    ASSERT_NE(channel_named("High"), nullptr);
    EXPECT_EQ(page().words(), "chains alone: the sum is flat");
    type(strip().field("frequencies_hz[0]"), "500");
    const auto& high = std::get<CrossoverSpec>(*channel_named("High")->stages[0]->spec);
    EXPECT_EQ(high.frequencies_hz[0], 500) << "one place to change it";
    EXPECT_EQ(high.way, 3);
    EXPECT_EQ(page().words(), "chains alone: the sum is flat");
    page().adds_up()->click();
    EXPECT_TRUE(page().words().startsWith("chains alone: the sum is within ±"));
    session().history().undo();
    session().history().undo();
    EXPECT_EQ(std::get<CrossoverSpec>(*channel_named("High")->stages[0]->spec).frequencies_hz[0],
              2000)
        << "undone in all of them";
}

TEST_F(Crossing, FewerWaysLeaveTheHighestTheHighest) {
    choose_item(strip().ways(), 2);
    for (const int way : {2, 3, 4}) {
        give_new_channel(way);
    }
    choose_item(strip().ways(), 0);
    EXPECT_EQ(spec().frequencies_hz.size(), 1U);
    EXPECT_EQ(std::get<CrossoverSpec>(*channel_named("High")->stages[0]->spec).way, 2);
    EXPECT_TRUE(channel_named("High mid")->stages.empty());
    EXPECT_EQ(page().words(), "chains alone: the sum is flat");
}

TEST_F(Crossing, AWayIsTakenAwayAndGivenToAnother) {
    choose_item(page().channel_of_way(2), 5); // Aurora
    const auto& aurora = *session().study().channels[4];
    EXPECT_EQ(kind_of(aurora.stages[0]->spec), CrossoverSpec::kind) << "at the top of its chain";
    choose_item(page().channel_of_way(2), 0);
    EXPECT_NE(kind_of(session().study().channels[4]->stages[0]->spec), CrossoverSpec::kind);
    choose_item(strip().way(), 1);
    EXPECT_EQ(spec().way, 2);
    EXPECT_FALSE(page().channel_of_way(2)->isEnabled()) << "this one";
}

TEST_F(Crossing, FamiliesGetAnOrderTheyHave) {
    choose_item(strip().family(), static_cast<int>(CrossoverFamily::butterworth));
    EXPECT_EQ(spec().order, 3);
    EXPECT_TRUE(session().stage_analysis()->filter);
    choose_item(strip().family(), static_cast<int>(CrossoverFamily::linkwitz_riley));
    EXPECT_EQ(spec().order, 4);
    choose_item(strip().family(), static_cast<int>(CrossoverFamily::linear_phase));
    EXPECT_TRUE(strip().field("length")->isVisible());
    EXPECT_FALSE(strip().field("order")->isVisible());
    choose_item(strip().family(), static_cast<int>(CrossoverFamily::subtractive));
    EXPECT_EQ(page().adds_up()->text(), "From the delayed input");
    give_new_channel(2);
    EXPECT_EQ(page().words(), "chains alone: the sum is flat");
    page().adds_up()->click();
    EXPECT_FALSE(spec().delayed);
    EXPECT_EQ(page().words(), "chains alone: the sum is flat");
}

TEST_F(Crossing, HeightsAndAnglesMoveTheSumOffAxis) {
    give_new_channel(2);
    type_into(page().height_of_way(2), "0.2");
    EXPECT_EQ(std::get<CrossoverSpec>(*channel_named("High")->stages[0]->spec).height_m, 0.2);
    type_into(page().angle(), "20");
    ASSERT_TRUE(page().plot()->picture());
    const CrossoverPicture& picture = *page().plot()->picture();
    EXPECT_EQ(picture.angle_deg, 20);
    double least = 0;
    for (const double db : picture.off_axis.level_db) {
        least = std::min(least, db);
    }
    EXPECT_LT(least, -1) << "the ways no longer come together";
    for (const double db : picture.on_axis.level_db) {
        EXPECT_NEAR(db, 0, 1e-9);
    }
    for (int form = 0; form < page().form()->count(); ++form) {
        page().form()->setCurrentIndex(form);
        EXPECT_FALSE(page().plot()->grab().isNull());
    }
}

TEST_F(Crossing, AligningSaysWhatIsMissing) {
    give_new_channel(2);
    const Study before = session().study();
    page().align()->click();
    EXPECT_TRUE(page().words().contains("not measured")) << page().words().toStdString();
    EXPECT_EQ(session().study(), before);
}

TEST_F(Crossing, MeasuredWaysAreAligned) {
    session().select_channel(0);
    session().edit_channel("Start anew", [](Channel& channel) { channel.stages.clear(); });
    add_stage(session(), CrossoverSpec{});
    session().edit("Start anew", [](Study& study) { study.channels[1].edit().stages.clear(); });
    choose_item(page().channel_of_way(2), 2); // Sunrise
    page().align()->click();
    EXPECT_TRUE(page().words().startsWith("as measured: ")) << page().words().toStdString();
    int aligned = 0;
    for (const int channel : {0, 1}) {
        for (const auto& stage : session().study().channels[channel]->stages) {
            aligned += stage->name.starts_with("Align") ? 1 : 0;
        }
    }
    EXPECT_GE(aligned, 1);
}

TEST_F(Crossing, TheCrossingIsTakenInTheHandOnTheLane) {
    give_new_channel(2);
    const QPointF from = *lanes().stage_grips().grip_point();
    drag(lanes(), from, QPointF(lanes().x_of(1000), from.y()));
    EXPECT_NEAR(spec().frequencies_hz[0], 1000, 30);
    EXPECT_NEAR(std::get<CrossoverSpec>(*channel_named("High")->stages[0]->spec).frequencies_hz[0],
                spec().frequencies_hz[0], 1e-9);
}

} // namespace
} // namespace syntonon
