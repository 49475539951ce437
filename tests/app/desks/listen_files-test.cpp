// Sound files dropped on the Listen desk, good ones and bad ones.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/desks/listen_fixture.h"

#include <QDropEvent>
#include <QMimeData>
#include <QUrl>
#include <cmath>
#include <fstream>
#include <limits>

namespace syntonon {
namespace {

using test::Listen;

class ListenFiles : public Listen {
protected:
    void drop(const std::filesystem::path& path) {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(QString::fromStdString(path.string()))});
        QDragEnterEvent enter({10, 10}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(window.get(), &enter);
        QDropEvent event({10, 10}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(window.get(), &event);
    }
    bool says(const char* words) {
        return QTest::qWaitFor(
            [&] {
                const auto labels = page().findChildren<QLabel*>();
                return std::ranges::any_of(labels, [&](const QLabel* label) {
                    return !label->isHidden() && label->text().contains(words);
                });
            },
            20'000);
    }
    bool is_added(const char* name) {
        const bool there = QTest::qWaitFor([&] { return row_of(name) > 0; }, 20'000);
        settle();
        return there;
    }
    std::filesystem::path sound(const char* name, const std::vector<double>& samples,
                                const SoundShape& shape = {},
                                SoundWords words = SoundWords::float_32) {
        test::write_sound(scratch.file(name), samples, shape, words);
        return scratch.file(name);
    }
    std::vector<double> tone(double peak) {
        std::vector<double> samples(4800);
        for (std::size_t n = 0; n < samples.size(); ++n) {
            samples[n] = peak * std::sin(0.05 * static_cast<double>(n));
        }
        return samples;
    }
};

// Whatever they are, the study stays as it was.
TEST_F(ListenFiles, WhatHoldsNoSoundIsRefusedByName) {
    const Study before = session().study();
    drop(sound("none.wav", {}));
    EXPECT_TRUE(says("none.wav: holds no samples"));
    drop(scratch.write("text.wav", "no sound"));
    EXPECT_TRUE(says("text.wav"));
    EXPECT_TRUE(says("is no sound file"));
    drop(scratch.file("gone.flac"));
    EXPECT_TRUE(says("gone.flac"));
    EXPECT_EQ(session().study(), before);
}

// What is wrong only within is said where the signal would stand, and undo takes it back.
TEST_F(ListenFiles, WhatIsWrongWithinIsSaidInItsRow) {
    const Study before = session().study();
    std::vector<double> samples = tone(0.5);
    samples[1000] = std::numeric_limits<double>::quiet_NaN();
    drop(sound("nan.wav", samples));
    ASSERT_TRUE(is_added("nan"));
    EXPECT_TRUE(bench().problem(Track::in).contains("nan.wav"));
    EXPECT_TRUE(bench().problem(Track::in).contains("1000"))
        << bench().problem(Track::in).toStdString();
    EXPECT_TRUE(bench().values(Track::out).empty());
    shortcut(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(session().study(), before);

    const auto cut = sound("cut.wav", tone(0.5), {}, SoundWords::int_16);
    std::filesystem::resize_file(cut, 3000);
    drop(cut);
    ASSERT_TRUE(is_added("cut"));
    EXPECT_TRUE(says("cut.wav is cut short: its head speaks of 4800 samples"));
    EXPECT_FALSE(out().empty()) << "what is there is used";
}

TEST_F(ListenFiles, SilentClippedAndManyChannelsAreTaken) {
    drop(sound("silent.wav", std::vector<double>(4800, 0.0)));
    ASSERT_TRUE(is_added("silent"));
    EXPECT_EQ(bench().length(), 4800u);
    EXPECT_TRUE(bench().problem(Track::in).isEmpty());

    drop(sound("clipped.wav", tone(3), {}, SoundWords::int_16));
    ASSERT_TRUE(is_added("clipped"));
    show_upper(1);
    EXPECT_NEAR(*desk().levels()->figures().levels[0].peak_db, 0, 0.01);

    std::vector<double> eight(8 * 4800, 0.0);
    for (std::size_t n = 0; n < 4800; ++n) {
        eight[8 * n] = 0.125;     // the first
        eight[8 * n + 7] = -0.25; // the eighth
    }
    drop(sound("eight.wav", eight, {48000, 8, 0}));
    ASSERT_TRUE(is_added("eight"));
    EXPECT_EQ(bench().length(), 4800u);
    EXPECT_EQ(bench().values(Track::in)[5], 0.125);
    edit_signal(session(), session().channel()->bench.signal, "channel",
                [](Signal& signal) { std::get<FileRecipe>(signal.recipe).channel = 8; });
    settle();
    EXPECT_EQ(bench().values(Track::in)[5], -0.25);
}

// As much as a signal may last is shown, the rest said; nothing is loaded whole.
TEST_F(ListenFiles, AFileThatIsTooLongIsCutAndSaysSo) {
    const std::filesystem::path path = sound("long.wav", tone(0.5), {}, SoundWords::int_16);
    constexpr std::uint32_t bytes = 600U * 48000 * 2; // ten minutes
    constexpr std::streamoff in_riff = 4;
    std::fstream file(path, std::ios::in | std::ios::out | std::ios::binary);
    std::string head(4096, '\0');
    file.read(head.data(), static_cast<std::streamsize>(head.size()));
    const auto data = static_cast<std::streamoff>(head.find("data")) + 4;
    const auto put = [&](std::streamoff at, std::uint32_t value) {
        file.clear();
        file.seekp(at);
        for (int i = 0; i < 4; ++i) {
            file.put(static_cast<char>(value >> (8 * i) & 255));
        }
    };
    put(data, bytes);
    put(in_riff, bytes + static_cast<std::uint32_t>(data) - 4);
    file.close();
    std::filesystem::resize_file(path, static_cast<std::uintmax_t>(data) + 4 + bytes);
    drop(path);
    ASSERT_TRUE(is_added("long"));
    EXPECT_EQ(bench().length(), most_signal_samples);
    EXPECT_TRUE(says("goes on for another"));
    EXPECT_FALSE(out().empty());
}

// On the other desks a sound file is a stage of taps, as ever.
TEST_F(ListenFiles, OnlyTheListenDeskTakesThemForSignals) {
    window->show_desk(Desk::shape);
    const std::size_t before = session().study().test_signals.size();
    session().select_channel(0);
    const std::size_t stages = session().channel()->stages.size();
    drop(sound("taps.wav", {0.25, 0.5, 0.25}));
    EXPECT_EQ(session().study().test_signals.size(), before);
    EXPECT_EQ(session().channel()->stages.size(), stages + 1);
}

} // namespace
} // namespace syntonon
