// Signals through the chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/desks/listen_fixture.h"

namespace syntonon {
namespace {

using test::Listen;

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
    const std::size_t of_out = index_of(Track::out);
    ASSERT_TRUE(before.overshoot[of_out] && before.settling_samples[of_out]);
    // exp(-pi / sqrt(4 Q^2 - 1)) of the analog section
    EXPECT_NEAR(*before.overshoot[of_out], std::exp(-M_PI / std::sqrt(15.0)), 0.01);
    session().select_stage(id(0));
    type(trim().q(), "4");
    settle();
    const auto after = desk().levels()->figures();
    EXPECT_GT(*after.overshoot[of_out], *before.overshoot[of_out]);
    EXPECT_GT(*after.settling_samples[of_out], *before.settling_samples[of_out]);
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
    // What is chosen to be heard, beside it.
    Transport& transport = *desk().view()->transport();
    transport.save(path("heard.wav"), {SoundWords::float_32, Dithering::none});
    ASSERT_TRUE(QTest::qWaitFor([&] { return transport.state().contains("64 samples"); }, 5000));
    EXPECT_EQ(test::read_sound(scratch.file("heard.wav")), back);
    transport.choice_buttons().front()->click();
    transport.save(path("in.wav"), {SoundWords::float_32, Dithering::none});
    ASSERT_TRUE(QTest::qWaitFor([&] { return transport.state().contains("in.wav"); }, 5000));
    EXPECT_EQ(test::read_sound(scratch.file("in.wav")).front(), 1);
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

// What stood out of the signal before is not to be had from the next one.
TEST_F(Listen, AnotherSignalLetsGoOfWhatIsHeld) {
    show_docent();
    QTest::keyClick(&spectrum(), Qt::Key_Right);
    ASSERT_TRUE(spectrum().held());
    send_signal(session(), "narration");
    settle();
    EXPECT_FALSE(spectrum().held());
    EXPECT_TRUE(spectrum().offers()->isHidden());
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
    EXPECT_EQ(desk().levels()->item(0, 0)->text(), "level, dBFS");
    EXPECT_NEAR(figures.levels[index_of(Track::reference)].peak_db.value(), -6, 1e-6);
}

TEST_F(Listen, TheDifferenceIsSeen) {
    show_docent();
    const auto rows = waveforms().rows();
    QTest::mouseClick(waveforms().difference_button(), Qt::LeftButton);
    settle();
    ASSERT_EQ(waveforms().rows().size(), rows.size() + 1);
    EXPECT_EQ(waveforms().rows().back(), Track::difference);
    show_upper(1);
    const BenchFigures& figures = desk().levels()->figures();
    EXPECT_NEAR(*figures.levels[index_of(Track::difference)].level_db
                    - *figures.levels[index_of(Track::reference)].level_db,
                figures.against[1]->residual_db, 0.05);
    EXPECT_FALSE(spectrum().spectra().tracks[index_of(Track::difference)].db.empty());
    QTest::mouseClick(waveforms().difference_button(), Qt::LeftButton);
    settle();
    EXPECT_EQ(waveforms().rows(), rows);
}

// A chain that passes everything, only with other phases, takes no noise away and adds none.
TEST_F(Listen, WhatTheChainDoesToTheReferenceIsNoNoise) {
    show_docent();
    session().edit_channel("all-pass", [](Channel& channel) {
        channel.stages.clear();
        Stage stage;
        stage.id = "turn";
        stage.spec = parametric(ParametricShape::all_pass, 300, 0, 3);
        channel.stages.emplace_back(stage);
    });
    settle();
    show_upper(1);
    const BenchFigures& figures = desk().levels()->figures();
    ASSERT_TRUE(figures.against[0] && figures.against[1]);
    EXPECT_NEAR(figures.against[1]->signal_to_noise_db, figures.against[0]->signal_to_noise_db,
                0.05);
    EXPECT_GT(figures.against[1]->residual_db, figures.against[0]->residual_db + 3);
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

TEST_F(Listen, AToneThroughASilentChainIsMeasuredAndDrawn) {
    show_docent();
    auto& lower = dynamic_cast<Companion&>(
        *window->findChild<SpectrogramPage*>()->parentWidget()->parentWidget());
    lower.show_page(3);
    session().edit_channel("silent", [](Channel& c) {
        Stage stage;
        stage.id = "nothing";
        stage.spec = TapsSpec{std::make_shared<const std::vector<double>>(2, 0.0)};
        c.stages = {stage};
    });
    auto& tone_page = dynamic_cast<TonePage&>(*lower.page(3));
    tone_page.grab();
    drag(*tone_page.plot(), {60, 30}, {200, 30});
    ToneMeter& tone = session().tone();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !tone.is_busy() && tone.now(); }, 5000));
    EXPECT_EQ(tone.now()->measured_db, -HUGE_VAL);
    tone_page.grab();
    window->show_desk(Desk::shape);
    window->lanes()->grab();
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

} // namespace
} // namespace syntonon
