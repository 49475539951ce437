// Stages and their taps out to files and in again, as a user does it.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/dialogs/stage_out_dialog.h"
#include "app/dialogs/taps_in_dialog.h"
#include "app/model/root_commands.h"
#include "app/model/stage_commands.h"
#include "core/base/units.h"
#include "core/filter/form.h"

#include <QDropEvent>
#include <QMimeData>
#include <QSpinBox>
#include <QTimer>
#include <cmath>

namespace syntonon {
namespace {

class StageFiles : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        use_empty_channel();
        add_stage(session(), FirSpec());
        QApplication::processEvents();
    }
    QString folder() const { return QString::fromStdString(scratch.folder().string()); }
    const std::vector<double>& taps_of_selected() {
        return *std::get<TapsSpec>(*session().stage()->spec).taps;
    }
    std::vector<double> taps_made() {
        const auto values = std::get<Taps>(session().stage_analysis()->filter->form()).values();
        return {values.begin(), values.end()};
    }
    QString saved(int format) {
        StageOutDialog dialog(session());
        dialog.folder()->setText(folder());
        choose_item(dialog.format(), format);
        const QString path = dialog.path();
        QTest::mouseClick(dialog.save_button(), Qt::LeftButton);
        EXPECT_EQ(dialog.result(), QDialog::Accepted) << dialog.facts().toStdString();
        return path;
    }
    void drop(const QString& path) {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(path)});
        QDragEnterEvent enter({400, 300}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(window.get(), &enter);
        QDropEvent event({400, 300}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(window.get(), &event);
        QApplication::processEvents();
    }
};

TEST_F(StageFiles, AStageGoesOutAsItsParametersAndIsDroppedOnAnotherStudy) {
    const QString path = saved(0);
    EXPECT_TRUE(path.endsWith(".syntonon-stage")) << path.toStdString();
    EXPECT_TRUE(path.contains("windowed_low-pass_5000hz_101taps_48000hz")) << path.toStdString();
    const StageSpec spec = session().stage()->spec;
    window->session().replace_study(brightwater_study());
    const std::size_t before = stages();
    drop(path);
    ASSERT_EQ(stages(), before + 1);
    EXPECT_EQ(session().stage()->spec, spec);
    EXPECT_TRUE(window->message()->isHidden()) << window->message()->text().toStdString();
}

TEST_F(StageFiles, TapsGoOutInEveryFormatAndComeInAgain) {
    const auto taps = taps_made();
    for (int format = 1; format <= 6; ++format) {
        const QString path = saved(format);
        const auto in = taps_of_file(session(), path, nullptr);
        ASSERT_TRUE(in && *in) << path.toStdString();
        ASSERT_EQ((*in)->taps.size(), taps.size());
        for (std::size_t n = 0; n < taps.size(); ++n) {
            EXPECT_NEAR((*in)->taps[n], taps[n], 1e-6) << path.toStdString();
        }
    }
}

TEST_F(StageFiles, NamesFollowThePatternAndAWrongOneIsSaid) {
    StageOutDialog dialog(session());
    dialog.folder()->setText(folder());
    dialog.pattern()->setText("{stage}-{length}");
    EXPECT_TRUE(dialog.path().endsWith("/windowed-fir-101taps.syntonon-stage"))
        << dialog.path().toStdString();
    dialog.pattern()->setText("{stage}-{lenght}");
    EXPECT_FALSE(dialog.save_button()->isEnabled());
    EXPECT_TRUE(dialog.facts().contains("use study, channel")) << dialog.facts().toStdString();
    dialog.pattern()->setText("{stage}");
    QTest::mouseClick(dialog.save_button(), Qt::LeftButton);
    StageOutDialog again(session());
    EXPECT_EQ(again.pattern()->text(), "{stage}") << "remembered";
    EXPECT_EQ(again.save_button()->text(), "Replace") << "is there already";
    again.pattern()->setText(QString::fromUtf8(usual_pattern.data(), usual_pattern.size()));
    QTest::mouseClick(again.save_button(), Qt::LeftButton);
}

TEST_F(StageFiles, ASoundFileOfAnotherRateIsResampledOnRequest) {
    const auto path = scratch.file("low.wav");
    ASSERT_TRUE(write_taps(path, taps_made(), {TapsFormat::wav, {}, {}, 44100}));
    TapsInDialog dialog(session(), QString::fromStdString(path.string()), {});
    EXPECT_TRUE(dialog.has_questions());
    ASSERT_TRUE(dialog.taken());
    EXPECT_GT(dialog.taken()->taps.size(), 101u);
    EXPECT_TRUE(dialog.facts().contains("later by")) << dialog.facts().toStdString();
    choose_item(dialog.rate(), 0);
    EXPECT_EQ(dialog.taken()->taps, taps_made());
    EXPECT_TRUE(dialog.facts().contains("have moved")) << dialog.facts().toStdString();
}

TEST_F(StageFiles, WordsAreAskedForTheirFormat) {
    TapsInDialog dialog(session(), {}, "0x4000 0xC000");
    EXPECT_TRUE(dialog.has_questions());
    EXPECT_EQ(dialog.taken()->taps, (std::vector{0.5, -0.5}));
    dialog.fraction()->setValue(14);
    EXPECT_EQ(dialog.taken()->taps, (std::vector{1.0, -1.0}));
    dialog.bits()->setValue(12);
    EXPECT_FALSE(dialog.take_button()->isEnabled());
    EXPECT_TRUE(dialog.facts().contains("more than 12 bits")) << dialog.facts().toStdString();
    EXPECT_FALSE(TapsInDialog(session(), {}, "0.5 0.25").has_questions());
}

TEST_F(StageFiles, ABadFileIsSaidAndNothingChanges) {
    const auto before = session().study();
    drop(QString::fromStdString(scratch.write("bad.syntonon-stage", "{\"format\": 1}").string()));
    EXPECT_TRUE(window->message()->text().contains("bad.syntonon-stage"));
    drop(QString::fromStdString(scratch.write("bad.wav", "not sound").string()));
    EXPECT_TRUE(window->message()->text().contains("cannot be read"))
        << window->message()->text().toStdString();
    EXPECT_EQ(session().study(), before);
}

TEST_F(StageFiles, OneFirOfTheChainStandsBesideIt) {
    use_empty_channel();
    add_stage(session(), parametric(ParametricShape::peak, 300, 6, 2));
    const std::size_t channels = session().study().channels.size();
    const double wanted = session().analysis()->chain.response_at(300, 48000).magnitude_db;
    add_fir_of_chain(session(), FirPlace::new_channel, FirPhase::linear);
    ASSERT_EQ(session().study().channels.size(), channels + 1);
    QTRY_VERIFY_WITH_TIMEOUT(session().analysis()->waits_for.empty(), 10000);
    const Filter& chain = session().analysis()->chain;
    EXPECT_NEAR(chain.response_at(300, 48000).magnitude_db, wanted, 0.01);
    EXPECT_EQ(std::get<Taps>(chain.form()).symmetry(), 1);
    // Opened into taps it no longer stands for what is above it.
    const auto words = open_stage(session(), session().selection().stage, OpenedAs::taps);
    ASSERT_TRUE(words) << to_text(words.error());
    EXPECT_TRUE(words->contains("switched off")) << words->toStdString();
    EXPECT_NEAR(session().analysis()->chain.response_at(300, 48000).magnitude_db, wanted, 0.01);
    EXPECT_GT(taps_of_selected().size(), 1000u);
}

} // namespace
} // namespace syntonon
