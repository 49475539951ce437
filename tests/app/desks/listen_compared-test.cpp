// Takes and other channels seen beside the output.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/desks/listen_fixture.h"

#include "app/model/compared_chains.h"
#include "app/model/take_commands.h"
#include "core/engine/render.h"
#include "core/engine/word_engine.h"
#include "core/filter/form.h"
#include "core/filter/in_sections.h"
#include "core/study/words.h"

#include <QAction>
#include <QMenu>

namespace syntonon {
namespace {

using test::Listen;

class ListenCompared : public Listen {
protected:
    QAction* menu_action(const QString& name) {
        QMenu& menu = *waveforms().compare_button()->menu();
        emit menu.aboutToShow();
        for (QAction* action : menu.actions()) {
            if (action->text() == name) {
                return action;
            }
        }
        ADD_FAILURE() << name.toStdString();
        return menu.actions().first();
    }
    void choose(const QString& name) {
        menu_action(name)->trigger();
        settle();
    }
    std::vector<std::string> compared() { return session().channel()->bench.compared; }
};

// As the demo has it: the narration through two takes, seen side by side.
TEST_F(ListenCompared, TwoTakesStandBelowTheOutput) {
    show_docent();
    EXPECT_EQ(waveforms().rows(), (std::vector{Track::in, Track::out, Track::first_compared,
                                               Track::second_compared, Track::reference}));
    EXPECT_EQ(bench().word_for(Track::first_compared), "recursive");
    EXPECT_EQ(bench().word_for(Track::second_compared), "FIR");
    const auto& take = *session().analysis()->takes[0];
    const auto expected = render(take.chain, bench().values(Track::in), 0, {});
    ASSERT_TRUE(expected);
    const auto seen = bench().values(Track::first_compared);
    ASSERT_TRUE(std::ranges::equal(seen, expected->out));
    EXPECT_FALSE(spectrum().spectra().tracks[index_of(Track::second_compared)].db.empty());
    show_upper(1);
    const BenchFigures& figures = desk().levels()->figures();
    for (const Track track : {Track::first_compared, Track::second_compared}) {
        // Cleaned: closer to the narration than what went in.
        ASSERT_TRUE(figures.against[index_of(track)]);
        EXPECT_GT(figures.against[index_of(track)]->signal_to_noise_db,
                  figures.against[index_of(Track::in)]->signal_to_noise_db + 3);
        const int column = 1 + static_cast<int>(index_of(track));
        EXPECT_FALSE(desk().levels()->isColumnHidden(column));
        EXPECT_EQ(desk().levels()->horizontalHeaderItem(column)->text(), bench().word_for(track));
    }
}

TEST_F(ListenCompared, AnImpulseGivesEachOfThemItsResponse) {
    show_docent();
    send_signal(session(), {});
    settle();
    ASSERT_EQ(spectrum().spectra().scale, SpectrumScale::ratio);
    for (std::size_t i = 0; i < 2; ++i) {
        const Spectrum& ratio = spectrum().spectra().tracks[index_of(Track::first_compared) + i];
        ASSERT_FALSE(ratio.db.empty());
        for (std::size_t k = 1; k + 1 < ratio.db.size(); k += 211) {
            const double expected = session()
                                        .analysis()
                                        ->takes[i]
                                        ->chain.response_at(ratio.hz_of(k), session().axis())
                                        .magnitude_db;
            if (expected > -100) {
                EXPECT_NEAR(ratio.db[k], expected, 1e-4) << ratio.hz_of(k);
            }
        }
    }
}

TEST_F(ListenCompared, AreChosenFromTheMenuAndTakenBackByUndo) {
    EXPECT_EQ(waveforms().rows(), (std::vector{Track::in, Track::out}));
    const QString other = QString::fromStdString(session().study().channels[1]->name);
    choose(other);
    EXPECT_EQ(waveforms().rows(), (std::vector{Track::in, Track::out, Track::first_compared}));
    EXPECT_EQ(bench().word_for(Track::first_compared), other);
    const auto impulse =
        session().analysis_of(*session().study().channels[1])->chain.impulse_response(64);
    for (std::size_t n = 0; n < impulse.size(); ++n) {
        EXPECT_NEAR(bench().values(Track::first_compared)[n], impulse[n], 1e-12);
    }
    // It can be heard, too.
    const auto& choices = desk().listening().choices();
    EXPECT_TRUE(std::ranges::any_of(choices, [&](const auto& c) { return c.name == other; }));
    choose("Docent");
    EXPECT_FALSE(menu_action("Aurora")->isEnabled()) << "two at most";
    choose(other);
    EXPECT_EQ(compared(), (std::vector<std::string>{"channel:docent"}));
    shortcut(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(compared().size(), 2u);
}

TEST_F(ListenCompared, FollowWhatIsDoneToThem) {
    choose("Docent");
    const auto before = bench().values(Track::first_compared);
    const std::vector<double> was(before.begin(), before.end());
    session().edit("louder", [](Study& s) {
        Stage gain;
        gain.id = "more";
        gain.spec = GainSpec{0, false, 2};
        s.channels[3].edit().stages.emplace_back(gain);
    });
    settle();
    const auto after = bench().values(Track::first_compared);
    ASSERT_EQ(after.size(), was.size());
    for (std::size_t n = 0; n < was.size(); ++n) {
        EXPECT_NEAR(after[n], 2 * was[n], 1e-9);
    }
}

TEST_F(ListenCompared, WhatIsRemovedIsComparedNoLonger) {
    choose("Docent");
    remove_channel(session(), 3);
    settle();
    EXPECT_TRUE(compared().empty());
    shortcut(Qt::Key_Z, Qt::ControlModifier);
    show_docent();
    remove_take(session(), 0);
    settle();
    EXPECT_EQ(compared(), (std::vector<std::string>{"take:fir"}));
    EXPECT_EQ(bench().word_for(Track::first_compared), "FIR");
}

TEST_F(ListenCompared, OneThatIsNotThereSaysSoInItsRow) {
    session().edit_channel("by hand",
                           [](Channel& channel) { channel.bench.compared = {"take:gone"}; });
    settle();
    EXPECT_TRUE(bench().problem(Track::first_compared).contains("there is no chain “take:gone”"));
    EXPECT_EQ(waveforms().rows(), (std::vector{Track::in, Track::out, Track::first_compared}));
    EXPECT_FALSE(out().empty());
}

// What the processor would put out, sample for sample, beside the output as designed.
TEST_F(ListenCompared, TheChannelItselfRunsInAProcessorsWords) {
    session().select_channel(0);
    settle();
    choose("words of Amplifier chips");
    EXPECT_EQ(compared(), std::vector<std::string>{"words:amplifiers"});
    EXPECT_EQ(bench().word_for(Track::first_compared), "words of Amplifie…");
    const auto& study = session().study();
    const auto words = words_of(study, *delivery_of(study, "amplifiers"), "zenith",
                                *series_parts_of(session().analysis()->chain.form()));
    ASSERT_TRUE(words);
    std::vector<double> wanted(bench().values(Track::in).begin(), bench().values(Track::in).end());
    WordEngine(words->chain).process(wanted);
    EXPECT_TRUE(std::ranges::equal(bench().values(Track::first_compared), wanted))
        << "to the last bit";
    EXPECT_FALSE(std::ranges::equal(bench().values(Track::out), wanted));
    EXPECT_EQ(bench().name_of(Track::first_compared), "Zenith run in words");
    const auto before = bench().samples(Track::first_compared);
    session().edit("another name", [](Study& changed) { changed.name = "Dome"; });
    settle();
    EXPECT_EQ(bench().samples(Track::first_compared), before) << "not run again for nothing";
    session().edit("words searched for another design", [](Study& changed) {
        for (Delivery& delivery : changed.deliveries) {
            delivery.searched = !delivery.processor.empty();
        }
    });
    settle();
    EXPECT_TRUE(bench().name_of(Track::first_compared).contains("out of date"));
    EXPECT_EQ(bench().samples(Track::first_compared), before) << "still the nearest";
    session().edit("no processor", [](Study& changed) {
        for (Delivery& delivery : changed.deliveries) {
            delivery.processor.clear();
        }
    });
    settle();
    EXPECT_FALSE(bench().problem(Track::first_compared).isEmpty());
}

} // namespace
} // namespace syntonon
