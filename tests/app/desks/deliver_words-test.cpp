// Words, processors and budgets on the desk where deliveries are.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/deliver_desk.h"
#include "app/model/study_files.h"
#include "app/model/words_work.h"
#include "app/panes/deliver/budget_pane.h"
#include "app/panes/deliver/delivery_card.h"
#include "app/panes/deliver/delivery_form.h"
#include "app/panes/deliver/delivery_preview.h"
#include "app/panes/deliver/loads_page.h"
#include "app/panes/deliver/processor_page.h"
#include "app/panes/deliver/words_page.h"
#include "app/panes/deliver/words_pane.h"
#include "app/panes/verdict_bar.h"
#include "app/plot/level_plot.h"
#include "tests/app/window_fixture.h"

#include <QComboBox>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>
#include <cmath>

namespace syntonon {
namespace {

class DeliverWords : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        window->show_desk(Desk::deliver);
        desk().choose("simulation");
        wait_for_words();
    }
    // What these wait for takes long enough for a recovery copy: none is left behind.
    void TearDown() override {
        window->files().close();
        Window::TearDown();
    }
    DeliverDesk& desk() { return window->deliver(); }
    const Delivery& delivery(const char* id) { return *delivery_of(session().study(), id); }
    void wait_for_words() {
        ASSERT_TRUE(QTest::qWaitFor(
            [this] {
                const auto result = desk().words_work().result();
                return result != nullptr && !desk().words_work().is_busy();
            },
            20000));
    }
    static QString cell(const QTableWidget* table, int row, int column) {
        return table->item(row, column)->text();
    }
};

TEST_F(DeliverWords, ShowsWhatTheProcessorMakesOfTheChannel) {
    const auto result = desk().words_work().result();
    EXPECT_FALSE(result->problem);
    EXPECT_TRUE(desk().words_pane()->isVisible());
    EXPECT_GT(result->picture.hz.size(), 300U);
    const QTableWidget* facts = desk().words_page()->facts();
    EXPECT_EQ(cell(facts, 0, 0), "deviation of level");
    EXPECT_TRUE(cell(facts, 1, 1).endsWith("dBFS"));
    EXPECT_GT(desk().words_page()->sources()->rowCount(), 3);
    const auto& noise = desk().words_page()->spectrum()->levels();
    ASSERT_EQ(noise.size(), 1u);
    EXPECT_TRUE(std::ranges::all_of(noise[0].db, [](double db) { return db < -100; }))
        << "of each Hz: far below all of it";
    // The table of structures and words, the delivery's own in bold.
    const QTableWidget* table = desk().words_pane()->table();
    EXPECT_EQ(table->rowCount(), 5);
    EXPECT_EQ(table->horizontalHeaderItem(1)->text(), "Q1.15 ×2");
    EXPECT_TRUE(cell(table, 0, 1).contains("unstable")) << "24 Hz in 16 bits of a direct form";
    EXPECT_TRUE(cell(table, 4, 1).startsWith("●")) << "the lattice holds it";
    // What it costs.
    EXPECT_EQ(desk().budget_pane()->line(0), "66 of 2048");
    EXPECT_TRUE(desk().budget_pane()->isVisible());
    desk().choose("table");
    EXPECT_FALSE(desk().words_pane()->isVisible()) << "for no processor";
    EXPECT_FALSE(desk().budget_pane()->isVisible());
}

TEST_F(DeliverWords, AnotherStructureIsADoubleClickAway) {
    QTableWidget* table = desk().words_pane()->table();
    emit table->cellDoubleClicked(3, 1);
    EXPECT_EQ(delivery("simulation").structure, Structure::coupled_form);
    EXPECT_TRUE(undo_name().contains("structure"));
    session().history().undo();
    EXPECT_EQ(delivery("simulation").structure, Structure::normalised_lattice);
}

TEST_F(DeliverWords, TheChosenCardIsSeenAboveTheBudget) {
    desk().choose("table"); // has no budget
    QTest::qWait(50);
    desk().choose("simulation");
    wait_for_words();
    QTest::qWait(50);
    const auto card = std::ranges::find(desk().cards(), "simulation", &DeliveryCard::id);
    ASSERT_NE(card, desk().cards().end());
    EXPECT_EQ((*card)->visibleRegion().boundingRect().height(), (*card)->height());
}

TEST_F(DeliverWords, SearchesWordsAndSaysWhenTheyAreOutOfDate) {
    desk().words_page()->search_button()->click();
    EXPECT_TRUE(desk().words_page()->search_button()->text().startsWith("Stop"));
    ASSERT_TRUE(QTest::qWaitFor([this] { return delivery("simulation").searched; }, 30000));
    EXPECT_EQ(delivery("simulation").found.size(), 1U);
    ASSERT_TRUE(QTest::qWaitFor(
        [this] {
            const auto result = desk().words_work().result();
            return result != nullptr && result->is_searched;
        },
        20000));
    EXPECT_FALSE(desk().words_work().result()->picture.searched_off_db.empty());
    EXPECT_TRUE(desk().words_page()->status().contains("Searched words"));
    session().edit_channel("off",
                           [](Channel& channel) { channel.stages.front().edit().enabled = false; });
    ASSERT_TRUE(QTest::qWaitFor(
        [this] { return desk().words_page()->status().contains("out of date"); }, 20000));
    EXPECT_TRUE(desk().preview()->status().contains("search its words again"))
        << "and is not written so";
    desk().words_page()->nearest_button()->click();
    EXPECT_FALSE(delivery("simulation").searched);
}

TEST_F(DeliverWords, LanesAndVerdictCanBeThoseOfTheWords) {
    QPushButton* view = window->verdict()->view_button();
    EXPECT_TRUE(view->isVisible());
    emit view->menu()->aboutToShow();
    QAction* amplifiers = nullptr;
    for (QAction* action : view->menu()->actions()) {
        amplifiers = action->text().contains("Amplifier") ? action : amplifiers;
    }
    ASSERT_NE(amplifiers, nullptr);
    const double before = *session().analysis()->verdict[0].margin;
    amplifiers->trigger();
    ASSERT_NE(session().analysis()->words, nullptr);
    EXPECT_FALSE(session().analysis()->words->problem);
    EXPECT_TRUE(view->text().contains("Amplifier chips"));
    EXPECT_NE(*session().analysis()->verdict[0].margin, before) << "the words are judged";
    emit view->menu()->aboutToShow();
    view->menu()->actions().front()->trigger();
    EXPECT_EQ(session().analysis()->words, nullptr);
    EXPECT_EQ(*session().analysis()->verdict[0].margin, before);
}

TEST_F(DeliverWords, AProfileIsChangedInPlaceAndRestored) {
    ProcessorPage& page = *desk().processor_page();
    QTableWidget* table = page.table();
    int row = 0;
    while (row < table->rowCount() && cell(table, row, 0) != "coefficient") {
        ++row;
    }
    ASSERT_EQ(cell(table, row, 1), "Q1.15");
    table->item(row, 1)->setText("Q1.19");
    EXPECT_EQ(processor_of(session().study(), "orrery-core")->section_words.coefficient,
              Word::fixed(1, 19));
    EXPECT_EQ(session().study().processors.size(), 1U);
    desk().refresh_now();
    table->item(row, 1)->setText("Q1");
    EXPECT_TRUE(page.problem().contains("◇ coefficient")) << page.problem().toStdString();
    EXPECT_EQ(cell(table, row, 1), "Q1.19") << "what is wrong is not taken";
    table->item(row, 1)->setText("float32"); // does not go with the other words
    EXPECT_TRUE(page.problem().contains("◇")) << page.problem().toStdString();
    page.restore_button()->click();
    EXPECT_TRUE(session().study().processors.empty());
    page.copy_button()->click();
    EXPECT_EQ(delivery("simulation").processor, "orrery-core-2");
    session().history().undo();
    session().history().undo();
    const QString path = QString::fromStdString(scratch.file("p.syntonon-processor").string());
    desk().refresh_now();
    page.write_file(path);
    page.read_file(path);
    EXPECT_EQ(session().study().processors.size(), 1U);
    page.read_file(path + "x");
    EXPECT_TRUE(page.problem().contains("◇"));
}

TEST_F(DeliverWords, MeasuresWhatFirsTakeHere) {
    LoadsPage& page = *desk().loads_page();
    EXPECT_TRUE(page.taps_edit()->text().endsWith("65536"));
    page.taps_edit()->setText("16, 1500, many");
    page.measure_button()->click();
    EXPECT_TRUE(page.words().contains(QStringLiteral("“ many” is no number of taps")))
        << page.words().toStdString();
    page.taps_edit()->setText("16, 1500, 6000");
    page.frames_edit()->setValue(64);
    page.measure_button()->click();
    EXPECT_TRUE(page.measure_button()->text().startsWith("Stop"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return page.table()->rowCount() == 6; }, 60000));
    EXPECT_EQ(cell(page.table(), 4, 0), "6000");
    EXPECT_EQ(cell(page.table(), 5, 1), "block");
    EXPECT_EQ(page.measure_button()->text(), "Measure");
    EXPECT_TRUE(page.words().contains("Here blocks are cheaper")) // from where, the machine says
        << page.words().toStdString();
    // The profile's figures stand beside them.
    const Processor* processor = processor_of(session().study(), delivery("simulation").processor);
    ASSERT_NE(processor, nullptr);
    EXPECT_EQ(cell(page.table(), 4, 5),
              QString::number(std::ceil(direct_cost(6000, *processor).cycles), 'f', 0));
}

TEST_F(DeliverWords, TheFormAsksWhatCounts) {
    DeliveryForm& form = *desk().form();
    EXPECT_TRUE(form.structure_choice()->isVisibleTo(&form));
    EXPECT_FALSE(form.number_choice()->isVisibleTo(&form)) << "the processor's words hold";
    choose_item(form.processor_choice(), 0);
    EXPECT_TRUE(delivery("simulation").processor.empty());
    EXPECT_FALSE(form.structure_choice()->isVisibleTo(&form));
    // A form of one's own, with an error that names its line.
    choose_item(form.format_choice(),
                form.format_choice()->findData(static_cast<int>(FileFormat::form)));
    form.form_edit()->setPlainText("{{channel}}\n{{nothing}}");
    desk().refresh_now();
    EXPECT_TRUE(desk().preview()->status().contains("form, line 2"))
        << desk().preview()->status().toStdString();
    form.form_edit()->setPlainText("{{channel}}: {{section_count}}");
    desk().refresh_now();
    EXPECT_TRUE(desk().preview()->text().startsWith("Zenith: "));
    form.pattern()->setText("../{channel}");
    emit form.pattern()->editingFinished();
    EXPECT_TRUE(form.problem().contains("◇"));
    form.pattern()->setText("{channel}-{rate}.inc");
    emit form.pattern()->editingFinished();
    desk().refresh_now();
    EXPECT_EQ(desk().preview()->files()->currentText(), "zenith-48000.inc");
}

} // namespace
} // namespace syntonon
