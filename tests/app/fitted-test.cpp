// A recursive fit: orders tried, one taken, a target of its own, and a delay equalised.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/shape_desk.h"
#include "app/model/fitter.h"
#include "app/model/stage_commands.h"
#include "app/panes/correction/limit_table.h"
#include "app/panes/fitted/fitted_page.h"
#include "app/panes/fitted/order_plot.h"
#include "app/panes/fitted/own_target.h"
#include "app/panes/goal/number_table.h"
#include "app/panes/trim/fitted_trim.h"
#include "app/widgets/quantity_edit.h"

#include <QComboBox>

namespace syntonon {
namespace {

class Fitting : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        session().select_channel(2); // Sunset, with nothing yet
        add_stage(session(), FittedSpec{});
        QApplication::processEvents();
    }
    FittedPage& page() {
        return dynamic_cast<FittedPage&>(*window->shape().upper()->page(ShapeDesk::fitted));
    }
    FittedTrim& strip() { return dynamic_cast<FittedTrim&>(*window->trim()->panel()); }
    const FittedSpec& spec() { return std::get<FittedSpec>(*session().stage()->spec); }
    bool is_at_rest() {
        const bool done = QTest::qWaitFor([this] { return !session().fitter().is_busy(); }, 20'000);
        QTest::qWait(200);
        return done && QTest::qWaitFor([this] {
                   const auto state = session().fitter().state_of(session().stage()->id);
                   return state != nullptr && state->is_fitted == is_fitted(spec());
               });
    }
    void click(QWidget& widget, const QPointF& at) {
        QTest::mouseClick(&widget, Qt::LeftButton, {}, at.toPoint());
    }
};

TEST_F(Fitting, AnOrderIsTakenFromThePlot) {
    EXPECT_EQ(window->shape().upper()->shown_page(), ShapeDesk::fitted) << "a new one shows it";
    page().try_orders()->click();
    EXPECT_EQ(page().try_orders()->text(), "Stop");
    ASSERT_TRUE(QTest::qWaitFor([this] { return !page().is_busy(); }, 60'000));
    EXPECT_TRUE(page().words().startsWith("order 8: ")) << page().words().toStdString();
    Briefs briefs;
    const auto brief =
        *briefs.fit_brief(session().study(), *session().channel(), session().stage()->id);
    const auto errors = *errors_by_order(spec(), brief, {12}, Watch());
    // The axis runs from order 2 to 24.
    const QRectF room = page().plot()->rect();
    const double x = 52 + 12 + (12 - 2) / 22.0 * (room.width() - 52 - 16 - 24);
    click(*page().plot(), {x, room.height() / 2});
    EXPECT_EQ(spec().order, 12);
    ASSERT_TRUE(is_at_rest());
    EXPECT_EQ(spec().poles.size(), 12U) << "and it is fitted";
    const auto state = session().fitter().state_of(session().stage()->id);
    EXPECT_NEAR(state->figures->together.after.rms_db, errors[0].rms, 1e-6);
    EXPECT_TRUE(page().words().startsWith("order 12: ")) << "what was tried stays";
}

TEST_F(Fitting, TryingIsStoppedByItsButtonAndByOtherSettings) {
    page().try_orders()->click();
    page().try_orders()->click();
    EXPECT_FALSE(page().is_busy());
    EXPECT_EQ(page().try_orders()->text(), "Try orders");
    page().try_orders()->click();
    page().axis()->setCurrentIndex(2);
    emit page().axis()->activated(2);
    EXPECT_FALSE(page().is_busy());
    EXPECT_EQ(spec().axis, FittedAxis::warped);
    EXPECT_TRUE(page().warping()->isVisible());
    page().warping()->selectAll();
    QTest::keyClicks(page().warping(), "2");
    QTest::keyClick(page().warping(), Qt::Key_Return);
    EXPECT_NE(spec().warping, 2);
    EXPECT_FALSE(page().words().isEmpty()) << "said why";
}

TEST_F(Fitting, FollowsATargetOfItsOwn) {
    emit page().follows()->activated(1);
    ASSERT_TRUE(spec().target);
    EXPECT_TRUE(page().points(OwnLine::level)->isVisible());
    page().points(OwnLine::level)->add()->click();
    ASSERT_EQ(spec().target->points.size(), 3U);
    emit page().points(OwnLine::level)->entered(0, 1, "6 dB");
    EXPECT_EQ(spec().target->points[0].value, 6);
    emit page().points(OwnLine::level)->entered(1, 0, "nonsense");
    EXPECT_FALSE(page().words().isEmpty());
    emit page().points(OwnLine::level)->fewer_wanted({1});
    EXPECT_EQ(spec().target->points.size(), 2U);
    EXPECT_EQ(spec().target->points[1].frequency_hz, 20'000);
    strip().fit()->click();
    ASSERT_TRUE(is_at_rest());
    EXPECT_TRUE(strip().words().contains("without it")) << strip().words().toStdString();
    emit page().follows()->activated(0);
    EXPECT_FALSE(spec().target);
    ASSERT_TRUE(is_at_rest());
    EXPECT_TRUE(strip().words().startsWith("out of date: ")) << strip().words().toStdString();
    page().open()->click();
    EXPECT_EQ(kind_of(session().stage()->spec), RootsSpec::kind);
}

TEST_F(Fitting, EqualisesTheDelayOfTheStagesAbove) {
    session().edit_channel("elliptic", [](Channel& channel) {
        ClassicalSpec low_pass;
        low_pass.family = ClassicalFamily::elliptic;
        low_pass.order = 6;
        low_pass.pass_ripple_db = 0.1;
        low_pass.stop_attenuation_db = 60;
        low_pass.edges_hz = {3000};
        Stage stage;
        stage.spec = low_pass;
        give_fresh_ids(stage, channel.stages);
        channel.stages.insert(channel.stages.begin(), stage);
    });
    emit strip().match()->activated(2);
    emit page().follows()->activated(1);
    ASSERT_TRUE(spec().delay_target);
    EXPECT_TRUE(page().points(OwnLine::delay)->isVisible());
    emit page().points(OwnLine::delay)->entered(0, 1, "2");
    EXPECT_EQ(spec().delay_target->points[0].value, 2);
    emit page().follows()->activated(0);
    EXPECT_FALSE(spec().delay_target) << "only the same everywhere";
    session().edit_stage("range", [](Stage& stage) {
        auto& fitted = std::get<FittedSpec>(stage.spec.edit());
        fitted.to_hz = 3000;
        fitted.axis = FittedAxis::linear_frequency;
    });
    const double level = session().analysis()->chain.response_at(1000, 48'000).magnitude_db;
    strip().fit()->click();
    ASSERT_TRUE(is_at_rest());
    EXPECT_TRUE(strip().words().contains("group delay")) << strip().words().toStdString();
    EXPECT_NEAR(session().analysis()->chain.response_at(1000, 48'000).magnitude_db, level, 1e-9);
    const auto& timing = session().fitter().state_of(session().stage()->id)->figures->timing;
    EXPECT_LT(timing->after.rms, timing->before.rms / 3);
}

// Docent's FIR take is a row of taps; a model of it needs few sections.
TEST_F(Fitting, AModelStandsForTheTapsAbove) {
    session().edit_channel("taps", [](Channel& channel) {
        std::vector<double> ringing;
        for (int n = 0; n < 300; ++n) {
            ringing.push_back(0.1 * std::exp(-0.03 * n) * std::cos(0.2 * n));
        }
        ringing.insert(ringing.begin(), 5, 0.0);
        Stage stage;
        stage.spec = TapsSpec{std::make_shared<const std::vector<double>>(ringing)};
        give_fresh_ids(stage, channel.stages);
        channel.stages.insert(channel.stages.begin(), stage);
    });
    emit strip().match()->activated(static_cast<int>(FittedMatch::impulse));
    QApplication::processEvents();
    EXPECT_TRUE(strip().method()->isVisible());
    EXPECT_FALSE(strip().errors()->isVisible());
    EXPECT_FALSE(page().axis()->isVisible());
    EXPECT_EQ(page().follows()->currentText(), "the stages above, and stands for them");
    EXPECT_GT(page().follows()->count(), 1) << "and measured impulse responses";
    type(strip().field("order"), "2");
    const double level = session().analysis()->chain.response_at(1500, 48'000).magnitude_db;
    strip().fit()->click();
    ASSERT_TRUE(is_at_rest());
    EXPECT_NEAR(session().analysis()->chain.response_at(1500, 48'000).magnitude_db, level, 0.1);
    EXPECT_TRUE(strip().words().contains("of the impulse response is left over"))
        << strip().words().toStdString();
    emit strip().method()->activated(static_cast<int>(ImpulseMethod::balanced_truncation));
    strip().fit()->click();
    ASSERT_TRUE(is_at_rest());
    EXPECT_TRUE(strip().words().contains("nowhere more than")) << strip().words().toStdString();
    page().open()->click();
    EXPECT_EQ(kind_of(session().stage()->spec), RootsSpec::kind);
    EXPECT_FALSE(session().channel()->stages.front()->enabled) << "it stood for the taps";
    EXPECT_NEAR(session().analysis()->chain.response_at(1500, 48'000).magnitude_db, level, 0.1);
}

TEST_F(Fitting, FollowsThePhaseOfAnotherChannel) {
    emit strip().match()->activated(static_cast<int>(FittedMatch::phase));
    QApplication::processEvents();
    EXPECT_EQ(page().follows()->count(), static_cast<int>(session().study().channels.size()) + 1);
    emit page().follows()->activated(1);
    EXPECT_TRUE(page().points(OwnLine::phase)->isVisible()) << "one of its own";
    emit page().follows()->activated(2);
    EXPECT_FALSE(spec().phase_target);
    EXPECT_EQ(spec().channel, session().study().channels[0]->id);
    session().edit_stage("range", [](Stage& stage) {
        auto& fitted = std::get<FittedSpec>(stage.spec.edit());
        fitted.from_hz = 60;
        fitted.to_hz = 160;
        fitted.order = 6;
    });
    strip().fit()->click();
    ASSERT_TRUE(is_at_rest());
    EXPECT_TRUE(strip().words().startsWith("phase ")) << strip().words().toStdString();
    const auto& timing = session().fitter().state_of(session().stage()->id)->figures->timing;
    EXPECT_LT(timing->after.rms, timing->before.rms);
    EXPECT_LT(timing->after.rms, 20);
}

} // namespace
} // namespace syntonon
