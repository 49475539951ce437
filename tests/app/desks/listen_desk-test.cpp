// Signals through the chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/desks/listen_desk.h"
#include "app/model/hump_commands.h"
#include "app/model/signal_commands.h"
#include "app/model/stage_commands.h"
#include "app/panes/listen/bench_pictures.h"
#include "app/panes/listen/bench_view.h"
#include "app/panes/listen/blind_page.h"
#include "app/panes/listen/levels_page.h"
#include "app/panes/listen/recipe_form.h"
#include "app/panes/listen/samples_table.h"
#include "app/panes/listen/signals_page.h"
#include "app/panes/listen/span_spectrum.h"
#include "app/panes/listen/steps_page.h"
#include "app/panes/listen/tone_page.h"
#include "app/panes/listen/transport.h"
#include "app/panes/listen/waveform_stack.h"
#include "app/widgets/quantity_edit.h"
#include "core/signal/make_signal.h"
#include "tests/support/pulse_server.h"
#include "tests/support/sounds.h"

#include <QCheckBox>
#include <QClipboard>
#include <QLabel>
#include <QPlainTextEdit>
#include <QTableWidget>
#include <QToolButton>
#include <QWheelEvent>

namespace syntonon {
namespace {

class Listen : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        window->show_desk(Desk::listen);
        settle();
    }
    ListenDesk& desk() { return window->listen(); }
    BenchWork& bench() { return desk().bench(); }
    const std::vector<double>& out() { return bench().samples(Track::out)->values(); }
    SignalsPage& page() { return *desk().signals_page(); }
    RecipeForm& form() { return *page().form(); }
    WaveformStack& waveforms() { return *desk().view()->waveforms(); }
    SpanSpectrum& spectrum() { return *desk().view()->spectrum(); }
    void settle() {
        EXPECT_TRUE(QTest::qWaitFor([&] { return !desk().is_busy(); }, 20'000));
        QTest::qWait(10);
    }
    void show_upper(int index) {
        dynamic_cast<Companion&>(*page().parentWidget()->parentWidget()).show_page(index);
        QTest::qWait(5);
        settle();
    }
    void show_docent() {
        session().select_channel(2);
        settle();
    }
    // y[n] = x[n] + x[n-1], doubled.
    void use_simple_chain() {
        session().edit("simple", [](Study& s) {
            Chain& stages = s.channels[0].edit().stages;
            stages.clear();
            Stage taps, gain;
            taps.id = "t";
            taps.spec = TapsSpec{std::make_shared<const std::vector<double>>(2, 1.0)};
            gain.id = "g";
            gain.spec = GainSpec{0, false, 2};
            stages.emplace_back(taps);
            stages.emplace_back(gain);
        });
    }
    void click_cell(int row, int column) {
        QTableWidget& table = *page().table();
        table.scrollToItem(table.item(row, column));
        QTest::mouseClick(table.viewport(), Qt::LeftButton, {},
                          table.visualItemRect(table.item(row, column)).center());
        settle();
    }
    int row_of(const char* name) {
        QTableWidget& table = *page().table();
        for (int row = 0; row < table.rowCount(); ++row) {
            if (table.item(row, 2)->text() == name) {
                return row;
            }
        }
        return -1;
    }
    static void enter(QLineEdit& edit, const char* text) {
        edit.setFocus();
        edit.selectAll();
        QTest::keyClicks(&edit, text);
        QTest::keyClick(&edit, Qt::Key_Return);
    }
};

TEST_F(Listen, AnImpulseGivesTheImpulseResponse) {
    const auto expected = session().analysis()->chain.impulse_response(64);
    ASSERT_EQ(out().size(), 64u);
    EXPECT_EQ(bench().values(Track::in)[0], 1);
    show_upper(3);
    ASSERT_EQ(desk().steps()->table()->rowCount(), 32);
    for (int n = 0; n < 32; ++n) {
        const auto i = static_cast<std::size_t>(n);
        EXPECT_NEAR(out()[i], expected[i], 1e-14);
        EXPECT_NEAR(desk().steps()->table()->item(n, 2)->toolTip().toDouble(), expected[i], 1e-14);
    }
}

// No setting is needed for the spectrum of a unit impulse to be the magnitude lane.
TEST_F(Listen, AnImpulsesSpectrumIsTheMagnitudeLane) {
    EXPECT_EQ(spectrum().spectra().scale, SpectrumScale::ratio);
    const Spectrum& ratio = spectrum().spectra().tracks[1];
    int checked = 0;
    for (std::size_t k = 1; k + 1 < ratio.db.size(); k += 37) {
        const auto point =
            session().analysis()->chain.response_at(ratio.hz_of(k), session().axis());
        ASSERT_NEAR(ratio.db[k], point.magnitude_db, 2e-8) << ratio.hz_of(k);
        ++checked;
    }
    EXPECT_GT(checked, 500);
}

TEST_F(Listen, AStepGivesItsSumOvershootAndSettling) {
    page().add(StepRecipe());
    EXPECT_EQ(undo_name(), "Add the signal Step");
    const auto impulse = session().analysis()->chain.impulse_response(64);
    double sum = 0;
    for (std::size_t i = 0; i < impulse.size(); ++i) {
        sum += impulse[i];
        EXPECT_NEAR(out()[i], sum, 1e-12);
    }
    session().edit("one low-pass", [](Study& s) {
        Chain& stages = s.channels[0].edit().stages;
        stages.resize(1);
        stages[0].edit().spec = parametric(ParametricShape::low_pass, 500, 0, 2);
    });
    show_upper(1);
    const auto before = desk().levels()->figures();
    ASSERT_TRUE(before.overshoot && before.settling_samples);
    // exp(-pi / sqrt(4 Q^2 - 1)) of the analog section
    EXPECT_NEAR(*before.overshoot, std::exp(-M_PI / std::sqrt(15.0)), 0.01);
    session().select_stage(id(0));
    type(trim().q(), "4");
    settle();
    const auto after = desk().levels()->figures();
    EXPECT_GT(*after.overshoot, *before.overshoot);
    EXPECT_GT(*after.settling_samples, *before.settling_samples);
}

TEST_F(Listen, NumbersAreTypedOrPasted) {
    use_simple_chain();
    page().add(NumbersRecipe{{0}});
    QPlainTextEdit* edit = form().numbers();
    ASSERT_NE(edit, nullptr);
    edit->setFocus();
    edit->selectAll();
    QTest::keyClicks(edit, "1 -0.5; 3");
    EXPECT_EQ((std::vector<double>(out().begin(), out().begin() + 5)),
              (std::vector<double>{2, 1, 5, 6, 0}));
    QTest::keyClicks(edit, " x");
    EXPECT_TRUE(form().problem().contains("“x” is not a number")) << form().problem().toStdString();
    EXPECT_EQ(out()[3], 6) << "what cannot be read leaves the signal as it was";
    QGuiApplication::clipboard()->setText("1\n0\n1\n");
    edit->selectAll();
    edit->paste();
    EXPECT_TRUE(form().problem().isEmpty());
    EXPECT_EQ((std::vector<double>(out().begin(), out().begin() + 5)),
              (std::vector<double>{2, 2, 2, 2, 0}));
}

TEST_F(Listen, SaysWhichProductsMadeAValue) {
    use_simple_chain();
    page().add(NumbersRecipe{{1, -0.5, 3}});
    show_upper(3);
    EXPECT_EQ(desk().steps()->equation(), "u1[n] = x[n] + x[n−1]\ny[n] = 2 u1[n]");
    desk().steps()->table()->setCurrentCell(2, 2);
    EXPECT_EQ(desk().steps()->products(), "u1[2] = 3 − 0.5 = 2.5\ny[2] = 2 · 2.5 = 5");
    EXPECT_TRUE(
        desk().steps()->agreement().startsWith("Run directly and by the inverse transform"));
}

TEST_F(Listen, FollowsTheChainAndItsTrims) {
    session().select_stage(id(4));
    const auto before = out();
    type(trim().gain(), "3");
    EXPECT_NE(out(), before);
    page().add(StepRecipe());
    enter(*form().length(), "200");
    EXPECT_EQ(out().size(), 200u);
}

TEST_F(Listen, CopiesValuesWithAllDigits) {
    show_upper(3);
    SamplesTable* table = desk().steps()->table();
    table->setCurrentCell(1, 2);
    table->item(1, 2)->setSelected(true);
    QTest::keyClick(table, Qt::Key_C, Qt::ControlModifier);
    EXPECT_EQ(QGuiApplication::clipboard()->text().toDouble(), out()[1]);
}

// --- the list of signals ---

TEST_F(Listen, ASignalIsSentAndHeldAgainstByAClick) {
    const int white = [&] {
        page().add(WhiteNoiseRecipe());
        return row_of("White noise");
    }();
    ASSERT_GT(white, 0);
    settle();
    EXPECT_EQ(bench().length(), 4u * 48000);
    click_cell(row_of("Impulse"), 0);
    EXPECT_EQ(bench().length(), 64u);
    EXPECT_EQ(undo_name(), "Send an impulse");
    click_cell(white, 0);
    click_cell(white, 1);
    EXPECT_EQ(session().channel()->bench.reference, "white-noise");
    EXPECT_EQ(waveforms().rows().size(), 3u);
    click_cell(white, 1);
    EXPECT_EQ(waveforms().rows().size(), 2u);
}

TEST_F(Listen, FieldsOfASignalAreTyped) {
    page().add(ToneRecipe{1000, 0, 0});
    enter(*form().field("frequency_hz"), "2k");
    EXPECT_EQ(std::get<ToneRecipe>(bench().signal().recipe).frequency_hz, 2000);
    EXPECT_EQ(undo_name(), "Change Tone");
    enter(*form().field("peak_db"), "1000");
    EXPECT_TRUE(form().problem().contains("out of range")) << form().problem().toStdString();
    EXPECT_EQ(std::get<ToneRecipe>(bench().signal().recipe).peak_db, 0);
    enter(*form().field("frequency_hz"), "30k");
    settle();
    EXPECT_TRUE(bench().problem(Track::in).contains("half the sample rate"));
    EXPECT_TRUE(out().empty());
    session().history().undo();
    settle();
    EXPECT_TRUE(bench().problem(Track::in).isEmpty());
}

TEST_F(Listen, AFullScaleToneReadsZero) {
    session().edit("no chain", [](Study& s) { s.channels[0].edit().stages.clear(); });
    page().add(ToneRecipe{997, 0, 0});
    settle();
    const Spectrum& level = spectrum().spectra().tracks[1];
    EXPECT_EQ(level.scale, SpectrumScale::tone_level);
    EXPECT_NEAR(*std::ranges::max_element(level.db), 0, 0.012);
    show_upper(1);
    EXPECT_NEAR(desk().levels()->figures().levels[1].level_db.value(), 0, 1e-3);
}

TEST_F(Listen, ASoundFileIsAddedAndConvertedWhenAsked) {
    test::write_sound(scratch.file("own.wav"), std::vector<double>(4800, 0.25));
    test::write_sound(scratch.file("other.wav"), std::vector<double>(4410, 0.25), {44100, 1, 0});
    page().add_file(QString::fromStdString(scratch.file("own.wav").string()));
    ASSERT_TRUE(QTest::qWaitFor([&] { return row_of("own") > 0; }, 5000));
    settle();
    EXPECT_EQ(bench().length(), 4800u);
    EXPECT_EQ(bench().values(Track::in)[100], 0.25);
    page().add_file(QString::fromStdString(scratch.file("other.wav").string()));
    QToolButton* convert = nullptr;
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
            for (auto* button : page().findChildren<QToolButton*>()) {
                convert = button->text() == "Convert it" && button->isVisible() ? button : convert;
            }
            return convert != nullptr;
        },
        5000));
    EXPECT_EQ(row_of("other"), -1) << "asked before";
    QTest::mouseClick(convert, Qt::LeftButton);
    settle();
    EXPECT_EQ(bench().length(), 4800u);
    EXPECT_NEAR(bench().values(Track::in)[2400], 0.25, 1e-5);
    EXPECT_TRUE(bench().remarks().join(' ').contains("converted from 44100 Hz"));
    page().add_file(QString::fromStdString(scratch.write("text.wav", "no sound").string()));
    EXPECT_TRUE(QTest::qWaitFor(
        [&] {
            for (auto* label : page().findChildren<QLabel*>()) {
                if (label->text().contains("is no sound file")) {
                    return true;
                }
            }
            return false;
        },
        5000));
}

TEST_F(Listen, SignalsAreSaved) {
    const auto said = [&](const char* words) {
        return QTest::qWaitFor(
            [&] {
                for (auto* label : page().findChildren<QLabel*>()) {
                    if (label->text().contains(words)) {
                        return true;
                    }
                }
                return false;
            },
            5000);
    };
    const auto path = [&](const char* name) {
        return QString::fromStdString(scratch.file(name).string());
    };
    page().save(Track::out, path("out.wav"), {SoundWords::float_32, Dithering::none});
    ASSERT_TRUE(said("64 samples"));
    const auto back = test::read_sound(scratch.file("out.wav"));
    ASSERT_EQ(back.size(), out().size());
    for (std::size_t n = 0; n < back.size(); ++n) {
        EXPECT_NEAR(back[n], out()[n], 1e-7);
    }
    page().save(Track::out, "/nowhere/at/all/out.wav", {});
    EXPECT_TRUE(said("/nowhere/at/all/out.wav: cannot be written"));
    // A file of more channels than one, all of it.
    std::vector<double> two(2 * 3000);
    two[10] = 0.5;
    test::write_sound(scratch.file("two.wav"), two, {48000, 2, 0});
    page().add_file(path("two.wav"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return row_of("two") > 0; }, 5000));
    settle();
    page().save_whole_file(path("through.flac"), {SoundWords::int_24, Dithering::none});
    ASSERT_TRUE(said("3000 samples"));
    const auto through = test::read_sound(scratch.file("through.flac"));
    ASSERT_EQ(through.size(), two.size());
    const auto impulse = session().analysis()->chain.impulse_response(500);
    for (std::size_t n = 0; n < 500; ++n) {
        EXPECT_NEAR(through[10 + 2 * n], 0.5 * impulse[n], 1e-6);
        EXPECT_EQ(through[11 + 2 * n], 0);
    }
}

// --- waveform, spectrum, pictures ---

TEST_F(Listen, ADragSelectsAStretchAndItsSpectrum) {
    show_docent();
    const auto room = waveforms().area(Track::out);
    drag(waveforms(), {room.left() + 200, room.center().y()},
         {room.left() + 260, room.center().y()});
    settle();
    ASSERT_TRUE(bench().span());
    const auto [from, to] = *bench().span();
    EXPECT_NEAR(static_cast<double>(to - from) / bench().length(), 60 / (room.width() - 10), 0.01);
    EXPECT_TRUE(spectrum().caption().startsWith("Spectrum of the stretch"));
    EXPECT_EQ(spectrum().spectra().tracks[1].length, usual_spectrum_length(to - from));
    // An end goes on from there.
    const double end = room.left() + 260;
    drag(waveforms(), {end, room.center().y()}, {end + 50, room.center().y()});
    EXPECT_EQ(bench().span()->first, from);
    EXPECT_GT(bench().span()->second, to);
    QTest::keyClick(&waveforms(), Qt::Key_Escape);
    EXPECT_FALSE(bench().span());
}

TEST_F(Listen, RowsHaveOneScaleUnlessUnlocked) {
    show_docent();
    EXPECT_TRUE(waveforms().has_one_scale());
    EXPECT_EQ(waveforms().plot(Track::in).high(), waveforms().plot(Track::reference).high());
    QTest::mouseClick(waveforms().scale_button(), Qt::LeftButton);
    EXPECT_FALSE(waveforms().has_one_scale());
    EXPECT_NE(waveforms().plot(Track::in).high(), waveforms().plot(Track::reference).high());
}

TEST_F(Listen, TheWheelShowsLessOfTheTime) {
    show_docent();
    const auto all = waveforms().shown();
    const QPointF at = waveforms().area(Track::in).center();
    QWheelEvent turn(at, waveforms().mapToGlobal(at), {}, {0, 480}, Qt::NoButton, Qt::NoModifier,
                     Qt::NoScrollPhase, false);
    QApplication::sendEvent(&waveforms(), &turn);
    const auto part = waveforms().shown();
    EXPECT_NEAR((part.second - part.first) / (all.second - all.first), std::pow(0.8, 4), 1e-6);
    QTest::mouseDClick(&waveforms(), Qt::LeftButton, {}, at.toPoint());
    EXPECT_EQ(waveforms().shown(), all);
}

TEST_F(Listen, WhatStandsOutBecomesPartOfTheGoalOrTheChain) {
    show_docent();
    const double whine = spectrum().x_of(11'800);
    const auto point = [&](double x) {
        return QPoint(int(x), int(spectrum().area().bottom()) - 20);
    };
    const auto take = [&](HumpOffer offer) {
        ASSERT_EQ(window->width(), 1280);
        ASSERT_NEAR(spectrum().x_of(11800), whine, 1)
            << spectrum().width() << " " << page().width();
        QTest::mouseClick(&spectrum(), Qt::LeftButton, {}, point(whine));
        ASSERT_TRUE(spectrum().held());
        EXPECT_NEAR(spectrum().held()->from_hz, 11'200, 60);
        EXPECT_NEAR(spectrum().held()->to_hz, 12'400, 60);
        ASSERT_TRUE(spectrum().offers()->isVisible());
        auto* button = spectrum().offers()->findChild<QToolButton*>(
            QStringLiteral("offer_%1").arg(static_cast<int>(offer)));
        QTest::mouseClick(button, Qt::LeftButton);
        settle();
        EXPECT_FALSE(spectrum().offers()->isVisible());
    };
    const Goal* goal = goal_of(session().study(), *session().channel());
    const std::size_t requirements = goal->requirements.size(), ranges = goal->corridor.size();
    take(HumpOffer::stopband);
    goal = goal_of(session().study(), *session().channel());
    ASSERT_EQ(goal->requirements.size(), requirements + 1);
    const auto& stop = std::get<AttenuationRequirement>(goal->requirements.back().spec);
    EXPECT_NEAR(stop.from_hz, 11'200, 60);
    EXPECT_GE(stop.min_db, 20);
    take(HumpOffer::ceiling);
    goal = goal_of(session().study(), *session().channel());
    EXPECT_EQ(goal->corridor.size(), ranges + 1);
    EXPECT_EQ(goal->corridor.back().above_db, -stop.min_db);
    for (const HumpOffer offer :
         {HumpOffer::notch, HumpOffer::band_stop, HumpOffer::fir_band_stop}) {
        const std::size_t before = stages();
        take(offer);
        EXPECT_EQ(stages(), before + 1);
        const double left_db =
            session().analysis()->chain.response_at(11'800, session().axis()).magnitude_db;
        EXPECT_LT(left_db, -stop.min_db + 1) << static_cast<int>(offer);
        session().history().undo();
        settle();
    }
}

TEST_F(Listen, ADragOverTheSpectrumTakesAnyBand) {
    show_docent();
    const QRectF room = spectrum().area();
    drag(spectrum(), {spectrum().x_of(1000), room.center().y()},
         {spectrum().x_of(2000), room.center().y()});
    ASSERT_TRUE(spectrum().held());
    EXPECT_NEAR(spectrum().held()->from_hz, 1000, 15);
    EXPECT_NEAR(spectrum().held()->to_hz, 2000, 30);
    QTest::keyClick(&spectrum(), Qt::Key_Escape);
    EXPECT_FALSE(spectrum().held());
    QTest::keyClick(&spectrum(), Qt::Key_Right);
    ASSERT_TRUE(spectrum().held()) << "the arrow keys go along what stands out";
    EXPECT_LT(spectrum().held()->at_hz, 60);
}

TEST_F(Listen, ARumbleBecomesAHighPass) {
    show_docent();
    QTest::keyClick(&spectrum(), Qt::Key_Right);
    auto* button = spectrum().offers()->findChild<QToolButton*>("offer_3");
    ASSERT_EQ(button->text(), "high-pass stage");
    QTest::mouseClick(button, Qt::LeftButton);
    EXPECT_TRUE(std::holds_alternative<ClassicalSpec>(*session().stage()->spec));
}

TEST_F(Listen, FiguresComeFromTheReference) {
    show_docent();
    show_upper(1);
    const BenchFigures& figures = desk().levels()->figures();
    ASSERT_TRUE(figures.against[0] && figures.against[1]);
    EXPECT_NEAR(figures.against[0]->signal_to_noise_db, 6, 0.05) << "as the mix says";
    EXPECT_NEAR(figures.against[0]->residual_db, -6, 0.01);
    EXPECT_EQ(desk().levels()->item(0, 0)->text(), "level");
    EXPECT_NEAR(figures.levels[2].peak_db.value(), -6, 1e-6);
}

TEST_F(Listen, TheDifferenceIsSeen) {
    show_docent();
    EXPECT_EQ(waveforms().rows().size(), 3u);
    QTest::mouseClick(waveforms().difference_button(), Qt::LeftButton);
    settle();
    ASSERT_EQ(waveforms().rows().size(), 4u);
    show_upper(1);
    const BenchFigures& figures = desk().levels()->figures();
    EXPECT_NEAR(*figures.levels[3].level_db - *figures.levels[2].level_db,
                figures.against[1]->residual_db, 0.05);
    EXPECT_FALSE(spectrum().spectra().tracks[3].db.empty());
    QTest::mouseClick(waveforms().difference_button(), Qt::LeftButton);
    settle();
    EXPECT_EQ(waveforms().rows().size(), 3u);
}

TEST_F(Listen, PicturesShowWhatThereIs) {
    show_docent();
    auto& lower = dynamic_cast<Companion&>(
        *window->findChild<SpectrogramPage*>()->parentWidget()->parentWidget());
    const auto& spectrograms = window->findChild<SpectrogramPage*>()->spectrograms();
    EXPECT_FALSE(spectrograms[2].db.empty());
    lower.show_page(1);
    settle();
    const auto& counts = window->findChild<HistogramPage*>()->counts();
    std::size_t all = 0;
    for (const std::size_t count : counts[0]) {
        all += count;
    }
    EXPECT_EQ(all, bench().length());
    lower.show_page(2);
    settle();
    EXPECT_EQ(window->findChild<LevelTimePage*>()->levels()[1].size(), 300u);
}

// --- tone and meter ---

TEST_F(Listen, ATonePulledAlongReadsWhatIsCalculated) {
    show_docent();
    auto& lower = dynamic_cast<Companion&>(
        *window->findChild<SpectrogramPage*>()->parentWidget()->parentWidget());
    lower.show_page(3);
    auto& tone_page = dynamic_cast<TonePage&>(*lower.page(3));
    QWidget& plot = *tone_page.plot();
    drag(plot, {60, 30}, {200, 30});
    ToneMeter& tone = session().tone();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !tone.is_busy() && tone.now(); }, 5000));
    EXPECT_TRUE(tone_page.switch_box()->isChecked());
    EXPECT_EQ(tone.now()->hz, *session().plumb().hz());
    EXPECT_NEAR(tone.now()->measured_db, tone.now()->calculated_db, 0.01);
    EXPECT_TRUE(tone_page.reading().contains("measured")) << tone_page.reading().toStdString();
    QTest::mouseClick(tone_page.sweep_button(), Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([&] { return tone.collected().size() > 61; }, 20'000));
    for (const auto& [hz, reading] : tone.collected()) {
        EXPECT_NEAR(reading.measured_db, reading.calculated_db, 0.01) << hz;
    }
    enter(*tone_page.frequency(), "237");
    ASSERT_TRUE(QTest::qWaitFor([&] { return tone.now() && tone.now()->hz == 237; }, 5000));
    EXPECT_LT(tone.now()->measured_db, -60) << "the notch";
    session().edit_channel("no stages", [](Channel& c) { c.stages.clear(); });
    ASSERT_TRUE(QTest::qWaitFor([&] { return tone.collected().size() == 1; }, 5000))
        << "those of the chain before are gone";
    EXPECT_NEAR(tone.now()->measured_db, 0, 1e-6);
    tone.switch_on(false);
}

// --- what does not go well ---

TEST_F(Listen, AnUnstableChainSaysSo) {
    session().edit("unstable", [](Study& s) {
        Chain& stages = s.channels[0].edit().stages;
        stages.resize(1);
        stages[0].edit().spec = RecursionSpec{{1}, {1, -2}, {}};
    });
    page().add(StepRecipe());
    settle();
    EXPECT_TRUE(bench().problem(Track::out).contains("grows without end"));
}

TEST_F(Listen, AnAnalogChannelHasNoSamples) {
    for (int i = 0; i < static_cast<int>(session().study().channels.size()); ++i) {
        if (session().study().channels[static_cast<std::size_t>(i)]->domain == Domain::analog) {
            session().select_channel(i);
        }
    }
    settle();
    ASSERT_TRUE(session().axis().is_analog());
    EXPECT_TRUE(bench().problem(Track::out).contains("has no samples"));
}

TEST_F(Listen, SilenceAndAVanishedFileAreSaid) {
    page().add(OffsetRecipe{0});
    settle();
    show_upper(1);
    EXPECT_EQ(desk().levels()->item(0, 1)->text(), "–");
    test::write_sound(scratch.file("gone.wav"), std::vector<double>(480, 0.25));
    page().add_file(QString::fromStdString(scratch.file("gone.wav").string()));
    ASSERT_TRUE(QTest::qWaitFor([&] { return row_of("gone") > 0; }, 5000));
    settle();
    std::filesystem::remove(scratch.file("gone.wav"));
    enter(*form().length(), "400");
    settle();
    EXPECT_TRUE(bench().problem(Track::in).contains("gone.wav"));
}

TEST_F(Listen, RemovingASignalLeavesNothingThatNamesIt) {
    show_docent();
    const int row = row_of("Narration");
    click_cell(row, 2);
    remove_signal(session(), "narration");
    settle();
    EXPECT_EQ(session().channel()->bench.reference, "");
    EXPECT_EQ(row_of("Narration"), -1);
    EXPECT_TRUE(bench().problem(Track::in).contains("there is no signal “narration”"));
    session().history().undo();
    settle();
    EXPECT_TRUE(bench().problem(Track::in).isEmpty());
}

// --- listening ---

TEST_F(Listen, WithoutADeviceItSaysSoAndEverythingElseWorks) {
    ::setenv("PULSE_SERVER", "unix:/nowhere/at/all", 1);
    if (!sound_outputs().empty()) {
        GTEST_SKIP() << "this machine has one";
    }
    show_docent();
    Transport& transport = *desk().view()->transport();
    QTest::mouseClick(transport.play_button(), Qt::LeftButton);
    EXPECT_FALSE(desk().listening().is_playing());
    EXPECT_TRUE(transport.state().contains("there is no device to play on"))
        << transport.state().toStdString();
    EXPECT_FALSE(out().empty());
    ::unsetenv("PULSE_SERVER");
}

class ListenAloud : public Listen {
protected:
    void SetUp() override {
        if (!server.is_there()) {
            GTEST_SKIP() << "pulseaudio does not start here";
        }
        Listen::SetUp();
        show_docent();
    }
    Listening& listening() { return desk().listening(); }
    Transport& transport() { return *desk().view()->transport(); }
    QToolButton& choice(const char* name) {
        for (QToolButton* button : transport().choice_buttons()) {
            if (button->text() == name) {
                return *button;
            }
        }
        ADD_FAILURE() << name;
        return *transport().choice_buttons().front();
    }
    bool plays_on() {
        const std::size_t before = listening().position();
        return QTest::qWaitFor([&] { return listening().position() != before; }, 20'000);
    }
    test::PulseServer server;
};

TEST_F(ListenAloud, PlaysAndStops) {
    EXPECT_EQ(listening().volume_db(), -20) << "quiet at first";
    QTest::mouseClick(transport().play_button(), Qt::LeftButton);
    ASSERT_TRUE(listening().is_playing()) << listening().problem().toStdString();
    ASSERT_TRUE(plays_on());
    EXPECT_TRUE(QTest::qWaitFor([&] { return listening().meters().peak > 0; }, 20'000));
    EXPECT_TRUE(transport().device_button()->toolTip().contains("256 frames"));
    EXPECT_TRUE(choice("out").isChecked());
    QTest::mouseClick(&choice("FIR"), Qt::LeftButton);
    EXPECT_TRUE(choice("FIR").isChecked());
    EXPECT_TRUE(plays_on());
    QTest::keyClick(desk().view(), Qt::Key_Space);
    EXPECT_FALSE(listening().is_playing());
}

TEST_F(ListenAloud, AllAreTurnedDownToTheQuietest) {
    ASSERT_TRUE(QTest::qWaitFor([&] { return listening().gain_db(0) != 0; }, 10'000));
    double greatest = -100;
    for (std::size_t i = 0; i < listening().choices().size(); ++i) {
        greatest = std::max(greatest, listening().gain_db(i));
        EXPECT_LE(listening().gain_db(i), 1e-9);
    }
    EXPECT_NEAR(greatest, 0, 1e-9);
    show_upper(1);
    const BenchFigures& figures = desk().levels()->figures();
    EXPECT_NEAR(listening().gain_db(0) - listening().gain_db(1),
                *figures.levels[1].loudness_lufs - *figures.levels[0].loudness_lufs, 0.01);
    QTest::mouseClick(transport().match_box(), Qt::LeftButton);
    EXPECT_EQ(listening().gain_db(0), 0);
}

TEST_F(ListenAloud, GoesOnBesideTheLanesWithItsLiveSpectrum) {
    listening().play(true);
    ASSERT_TRUE(plays_on());
    window->show_desk(Desk::shape);
    QTest::qWait(50);
    EXPECT_TRUE(plays_on());
    session().live().wish(true);
    ASSERT_TRUE(QTest::qWaitFor([&] { return session().live().levels().size() > 200; }, 20'000));
    session().select_stage(id(1));
    session().edit_stage("move the notch", [](Stage& stage) {
        std::get<ParametricSpec>(stage.spec.edit()).frequency_hz = 250;
    });
    QTest::qWait(100);
    EXPECT_TRUE(listening().problem().isEmpty()) << listening().problem().toStdString();
    shortcut(Qt::Key_Space, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_FALSE(listening().is_playing());
    session().live().wish(false);
}

TEST_F(ListenAloud, AStretchIsLooped) {
    bench().set_span(BenchWork::Span(96'000, 110'000));
    listening().play(true);
    ASSERT_TRUE(plays_on());
    for (int i = 0; i < 20; ++i) {
        QTest::qWait(50);
        EXPECT_GE(listening().position(), 96'000u);
        EXPECT_LE(listening().position(), 110'000u);
    }
}

TEST_F(ListenAloud, AnUnstableChainIsMutedWithTheReason) {
    listening().play(true);
    ASSERT_TRUE(plays_on());
    session().edit("unstable", [](Study& s) {
        Chain& stages = s.channels[2].edit().stages;
        stages[0].edit().spec = RecursionSpec{{1}, {1, -2}, {}};
    });
    EXPECT_TRUE(QTest::qWaitFor([&] { return transport().state().contains("muted"); }, 20'000));
    EXPECT_TRUE(transport().state().contains("unstable"));
    session().history().undo();
    EXPECT_TRUE(QTest::qWaitFor([&] { return transport().state().isEmpty(); }, 20'000));
}

TEST_F(ListenAloud, ADeviceThatVanishesIsSaid) {
    listening().play(true);
    ASSERT_TRUE(plays_on());
    server.stop();
    EXPECT_TRUE(
        QTest::qWaitFor([&] { return transport().state().contains("device has gone"); }, 20'000));
    EXPECT_FALSE(listening().is_playing());
}

TEST_F(ListenAloud, ABlindComparisonCountsAndHidesWhatXIs) {
    BlindPage& page = *desk().blind();
    show_upper(2);
    page.first()->setCurrentIndex(0);
    page.second()->setCurrentIndex(1);
    QTest::mouseClick(page.hear_button(2), Qt::LeftButton);
    EXPECT_TRUE(listening().is_playing());
    for (QToolButton* button : transport().choice_buttons()) {
        EXPECT_FALSE(button->isChecked()) << "X would be known";
    }
    int right = 0;
    for (int i = 0; i < 8; ++i) {
        const bool say_second = i % 3 == 0;
        right += page.x_is_second() == say_second ? 1 : 0;
        QTest::mouseClick(page.answer_button(say_second ? 1 : 0), Qt::LeftButton);
    }
    EXPECT_EQ(page.score(), "8 answers");
    page.score_box()->click();
    EXPECT_EQ(page.right(), right);
    EXPECT_TRUE(page.score().startsWith(QStringLiteral("%1 of 8 right").arg(right)))
        << page.score().toStdString();
}

} // namespace
} // namespace syntonon
