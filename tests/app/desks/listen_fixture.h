// The Listen desk with its panes at hand.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

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

namespace syntonon::test {

class Listen : public Window {
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
        session().select_channel(3);
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

} // namespace syntonon::test
