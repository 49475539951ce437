// FIRs chosen and turned in the trim strip.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/model/stage_commands.h"
#include "app/panes/trim/fir_trim.h"
#include "app/panes/trim/new_stages.h"
#include "core/filter/form.h"

#include <QCheckBox>

namespace syntonon {
namespace {

class FirInStrip : public test::Window {
protected:
    void put(const FirSpec& fir) {
        add_stage(session(), fir);
        QApplication::processEvents();
    }
    FirTrim& trim() { return dynamic_cast<FirTrim&>(*window->trim()->panel()); }
    const FirSpec& fir() { return std::get<FirSpec>(*session().stage()->spec); }
    void choose(QComboBox* box, const QString& text) {
        const int index = box->findText(text);
        ASSERT_GE(index, 0) << text.toStdString();
        box->setCurrentIndex(index);
        emit box->activated(index);
        QApplication::processEvents();
    }
    std::size_t taps() {
        return std::get<Taps>(session().stage_analysis()->filter->form()).values().size();
    }
};

TEST_F(FirInStrip, LengthOrderAndDelayStandBesideOneAnother) {
    put({});
    EXPECT_TRUE(trim().words().contains("101 taps, order 100 · delay 50 samples, 1.042 ms"))
        << trim().words().toStdString();
    EXPECT_TRUE(trim().words().contains("−6.0 dB at the edge, −3 dB at 4."))
        << trim().words().toStdString();
    EXPECT_TRUE(trim().field("edges_hz[0]")->toolTip().contains("× sample rate"))
        << "what a normalised frequency is normalised to";
    Field* length = trim().field("length");
    length->editor()->setFocus();
    length->editor()->selectAll();
    QTest::keyClicks(length->editor(), "64");
    QTest::keyClick(length->editor(), Qt::Key_Return);
    EXPECT_EQ(fir().length, 64);
    EXPECT_TRUE(trim().words().contains("delay 31.5 samples")) << trim().words().toStdString();
}

TEST_F(FirInStrip, EveryMethodShowsItsFieldsAndDesigns) {
    put({});
    const int before = session().history().index();
    for (const auto& name : names_of_methods()) {
        choose(trim().method(), QString::fromUtf8(name.title.data(), qsizetype(name.title.size())));
        ASSERT_EQ(fir().method.index(), name.value);
        QTRY_VERIFY_WITH_TIMEOUT(!session().stage_analysis()->is_waiting, 5000);
        EXPECT_TRUE(session().stage_analysis()->filter)
            << name.key << to_text(session().stage_analysis()->filter.error());
        EXPECT_EQ(trim().stated_by()->isVisible(), name.key == "windowed" || name.key == "sampled"
                                                       || name.key == "least_squares"
                                                       || name.key == "equiripple")
            << name.key;
    }
    EXPECT_EQ(session().history().index(), before + int(names_of_methods().size()) - 1);
}

TEST_F(FirInStrip, ItIsStatedInOtherWays) {
    put({});
    choose(trim().stated_by(), "tolerances");
    EXPECT_TRUE(length_follows(fir()));
    EXPECT_FALSE(trim().field("length")->isVisible());
    EXPECT_TRUE(trim().field("spec.stop_edges_hz[0]")->isVisible());
    EXPECT_FALSE(trim().window()->isVisible()) << "a Kaiser window follows";
    choose(trim().stated_by(), "bands");
    EXPECT_TRUE(takes_bands(fir()));
    EXPECT_FALSE(trim().band()->isVisible());
    choose(trim().method(), "Equiripple");
    choose(trim().stated_by(), "the goal");
    EXPECT_TRUE(fir().wish.use_goal);
    EXPECT_TRUE(takes_bands(fir())) << "the goal's target in their place";
}

TEST_F(FirInStrip, AWindowBeginsWithItsUsualParameter) {
    put({});
    choose(trim().window(), "Dolph-Chebyshev");
    EXPECT_EQ(std::get<WindowedFir>(fir().method).window.parameter, 80);
    choose(trim().window(), "Hann");
    EXPECT_FALSE(trim().field("window_parameter")->isVisible());
    choose(trim().phase(), "minimum");
    EXPECT_EQ(fir().phase, FirPhase::minimum);
    QTRY_VERIFY_WITH_TIMEOUT(!session().stage_analysis()->is_waiting, 5000);
    EXPECT_EQ(taps(), 101u);
}

TEST_F(FirInStrip, WhatCannotBeIsSaidAtItsField) {
    WindowedFir method;
    method.band = ClassicalBand::high_pass;
    FirSpec spec;
    spec.method = method;
    put(spec);
    Field* length = trim().field("length");
    length->editor()->setFocus();
    length->editor()->selectAll();
    QTest::keyClicks(length->editor(), "100");
    QTest::keyClick(length->editor(), Qt::Key_Return);
    EXPECT_EQ(fir().length, 101) << "not taken";
    EXPECT_TRUE(length->problem().contains("type II")) << length->problem().toStdString();
}

TEST_F(FirInStrip, WhatWasBeforeIsKeptAsATakeWhenAsked) {
    use_empty_channel();
    put({});
    const auto& takes = [this]() -> const auto& {
        return session().channel()->takes;
    };
    const std::size_t before = takes().size();
    choose(trim().window(), "Hann");
    EXPECT_EQ(takes().size(), before) << "not asked";
    QTest::mouseClick(trim().keeps_before(), Qt::LeftButton);
    choose(trim().window(), "Hamming");
    ASSERT_EQ(takes().size(), before + 1);
    EXPECT_EQ(takes().back()->name, "Windowed FIR, Hann, 101 taps");
    EXPECT_EQ(std::get<WindowedFir>(std::get<FirSpec>(*takes().back()->stages[0]->spec).method)
                  .window.shape,
              WindowShape::hann);
    type(trim().field("length"), "151");
    EXPECT_EQ(takes().size(), before + 2);
    choose(trim().method(), "Least squares");
    EXPECT_EQ(takes().back()->name, "Windowed FIR, Hamming, 151 taps");
    session().history().undo();
    EXPECT_EQ(takes().size(), before + 2) << "the take goes with its step";
    for (int i = 0; i < 3; ++i) {
        QTest::keyClick(trim().field("length")->editor(), Qt::Key_Up);
    }
    EXPECT_EQ(takes().size(), before + 3) << "of one gesture only the first";
}

} // namespace
} // namespace syntonon
