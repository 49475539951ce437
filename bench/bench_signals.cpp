// The Listen desk with long signals: how long until the output is there, and what drawing it costs.
//   QT_QPA_PLATFORM=offscreen bench_signals
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/signal_commands.h"
#include "app/panes/listen/levels_page.h"
#include "app/panes/listen/span_spectrum.h"
#include "app/panes/listen/waveform_stack.h"
#include "demo/brightwater.h"

#include <QApplication>
#include <QElapsedTimer>
#include <algorithm>
#include <cstdio>
#include <vector>

namespace {

using namespace syntonon;

double ms_until(QElapsedTimer& timer, const auto& holds) {
    while (!holds()) {
        QApplication::processEvents(QEventLoop::AllEvents, 1);
    }
    return static_cast<double>(timer.nsecsElapsed()) / 1e6;
}

double median_paint_ms(QWidget& widget) {
    std::vector<double> ms;
    QPixmap onto(widget.size());
    for (int i = 0; i < 31; ++i) {
        QElapsedTimer timer;
        timer.start();
        widget.render(&onto);
        ms.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
    }
    std::ranges::sort(ms);
    return ms[ms.size() / 2];
}

void measure(std::size_t samples) {
    Session session;
    session.replace_study(brightwater_study());
    BenchWork bench(session, [] { return std::filesystem::path(); });
    WaveformStack waveforms(session, bench);
    SpanSpectrum spectrum(session, bench);
    LevelsPage levels(bench);
    waveforms.resize(664, 340);
    spectrum.resize(664, 290);
    for (QWidget* widget : std::initializer_list<QWidget*>{&waveforms, &spectrum, &levels}) {
        widget->show();
    }
    bench.set_watched(true);
    QElapsedTimer timer;
    timer.start();
    session.edit("a long signal", [&](Study& study) {
        const SignalLength length{LengthUnit::samples, static_cast<double>(samples)};
        study.test_signals.emplace_back(Signal{"long", "Long", length, PinkNoiseRecipe(), {}});
        study.channels.front().edit().bench.signal = "long";
    });
    const double made = ms_until(
        timer, [&] { return !bench.is_busy() && bench.values(Track::out).size() == samples; });
    const double seen = ms_until(timer, [&] { return !spectrum.is_busy(); });
    const double read = ms_until(timer, [&] { return !levels.is_busy(); });
    const double all_ms = median_paint_ms(waveforms);
    waveforms.show_samples(1000, 1000 + static_cast<double>(samples) / 50);
    const double part_ms = median_paint_ms(waveforms);
    timer.restart();
    session.edit_channel("a change", [](Channel& channel) { channel.stages.pop_back(); });
    const double changed = ms_until(timer, [&] { return !bench.is_busy(); });
    std::printf(
        "%9zu samples: output after %.0f ms, spectrum %.0f, figures %.0f; drawn in %.1f ms, "
        "a fiftieth of it in %.1f; the spectrum in %.1f; a changed chain heard of after "
        "%.0f ms\n",
        samples, made, seen, read, all_ms, part_ms, median_paint_ms(spectrum), changed);
}

} // namespace

int main(int argc, char** argv) {
    const QApplication application(argc, argv);
    for (const std::size_t samples :
         {std::size_t(48'000), std::size_t(1'000'000), std::size_t(1) << 24}) {
        measure(samples);
    }
    return 0;
}
