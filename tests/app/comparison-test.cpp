// Takes, differences, the verdict of all channels, the working, and how the lanes show it all.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/model/take_commands.h"
#include "app/panes/takes_pane.h"
#include "app/panes/verdict_pane.h"
#include "app/panes/working_pane.h"
#include "app/plot/lane_menus.h"
#include "app/plot/lane_picture.h"
#include "app/plot/plumb_readout.h"
#include "core/base/units.h"

#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QHelpEvent>
#include <QMenu>
#include <QPushButton>
#include <QTableWidget>
#include <QToolTip>
#include <QTreeWidget>
#include <QXmlStreamReader>
#include <qcustomplot.h>

namespace syntonon {
namespace {

class ComparisonTest : public test::Window {
protected:
    const Channel& channel() { return *session().channel(); }
    TakesPane& takes() { return *window->takes_pane(); }
    QRect lane(Lane which) { return lanes().rect_of(which); }
    void change_view(const std::function<void(LaneView&)>& change) {
        LaneView view = lanes().view();
        change(view);
        lanes().change_view(view);
        lanes().redraw_now();
    }
    std::vector<QString> labels() {
        std::vector<QString> names;
        for (const PlacedLabel& label : lanes().labels()) {
            names.push_back(label.label.text);
        }
        return names;
    }
    bool is_labelled(const QString& name) {
        const auto all = labels();
        return std::ranges::find(all, name) != all.end();
    }
};

TEST_F(ComparisonTest, TakesAreFrozenShownRestoredAndDeleted) {
    window->show_takes();
    QTest::mouseClick(takes().freeze_button(), Qt::LeftButton);
    ASSERT_EQ(channel().takes.size(), 4u);
    EXPECT_EQ(channel().takes[3]->stages, channel().stages);
    EXPECT_EQ(takes().table()->item(3, 0)->text(), "take 4");
    takes().table()->item(3, 0)->setText("evening");
    QApplication::processEvents();
    EXPECT_EQ(channel().takes[3]->name, "evening");
    EXPECT_TRUE(is_labelled("evening"));
    const auto frozen = channel().stages;
    session().edit_channel("clear", [](Channel& c) { c.stages.clear(); });
    takes().table()->setCurrentCell(3, 0);
    QTest::mouseClick(takes().only_button(), Qt::LeftButton);
    EXPECT_FALSE(channel().takes[0]->shown);
    EXPECT_FALSE(is_labelled("as built"));
    QTest::mouseClick(takes().restore_button(), Qt::LeftButton);
    EXPECT_EQ(channel().stages, frozen);
    takes().table()->item(3, 0)->setCheckState(Qt::Unchecked);
    QApplication::processEvents();
    EXPECT_FALSE(channel().takes[3]->shown);
    QTest::mouseClick(takes().delete_button(), Qt::LeftButton);
    EXPECT_EQ(channel().takes.size(), 3u);
    session().history().undo();
    EXPECT_EQ(channel().takes.size(), 4u) << "nothing is lost";
}

TEST_F(ComparisonTest, TheDifferenceOfAnyTwoIsDrawn) {
    window->show_takes();
    takes().difference_shown()->click();
    ASSERT_TRUE(channel().difference);
    EXPECT_TRUE(is_labelled("difference"));
    takes().difference_from_choice()->setCurrentIndex(
        takes().difference_from_choice()->findData("take:t1"));
    emit takes().difference_from_choice()->activated(0);
    EXPECT_EQ(channel().difference->from, "take:t1");
    remove_take(session(), 0);
    EXPECT_FALSE(is_labelled("difference"));
    EXPECT_TRUE(takes().difference_from_choice()->currentText().contains("missing"));
    takes().difference_shown()->click();
    EXPECT_FALSE(channel().difference);
}

TEST_F(ComparisonTest, NamesOfManyTakesDoNotOverlap) {
    session().edit_channel("many", [](Channel& c) {
        for (int i = 0; i < 50; ++i) {
            Take take = *c.takes[1];
            take.id = "m" + std::to_string(i);
            take.name = "try number " + std::to_string(i);
            std::get<ParametricSpec>(take.stages[1].edit().spec.edit()).gain_db = i * 0.1;
            c.takes.emplace_back(take);
        }
    });
    const auto& placed = lanes().labels();
    EXPECT_GT(placed.size(), 11u);
    EXPECT_TRUE(is_labelled("and 42 more takes"));
    for (std::size_t i = 0; i < placed.size(); ++i) {
        EXPECT_TRUE(QRectF(lane(Lane::magnitude)).contains(placed[i].box));
        for (std::size_t k = 0; k < i; ++k) {
            EXPECT_FALSE(placed[i].box.intersects(placed[k].box))
                << placed[i].label.text.toStdString() << placed[k].label.text.toStdString();
        }
    }
}

TEST_F(ComparisonTest, AClickOnANameShowsThatCurveAlone) {
    const auto label = std::ranges::find_if(
        lanes().labels(), [](const PlacedLabel& l) { return l.label.key == "take:t2"; });
    ASSERT_NE(label, lanes().labels().end());
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, label->box.center().toPoint());
    EXPECT_EQ(labels(), std::vector<QString>{"first pass"});
    EXPECT_FALSE(lanes().curves().is_shown("prediction"));
    EXPECT_FALSE(session().plumb().is_pinned()) << "a click on a name is no click on the lane";
    lanes().show_alone({});
    EXPECT_TRUE(is_labelled("predicted"));
    lanes().show_curve("measured", false);
    EXPECT_FALSE(is_labelled("measured"));
}

TEST_F(ComparisonTest, HoveringExplainsACurve) {
    const double hz = 3000;
    const double level = *session().point_at(hz)->predicted_db;
    const auto named =
        lanes().curves().explained_at({lanes().x_of(hz), lanes().y_of(Lane::magnitude, level)});
    ASSERT_TRUE(named);
    EXPECT_EQ(named->key, "prediction");
    EXPECT_TRUE(named->name.contains("4 positions")) << named->name.toStdString();
    const QPoint at(static_cast<int>(lanes().x_of(hz)),
                    static_cast<int>(lanes().y_of(Lane::magnitude, level)));
    QHelpEvent help(QEvent::ToolTip, at, lanes().mapToGlobal(at));
    QApplication::sendEvent(&lanes(), &help);
    EXPECT_TRUE(QToolTip::text().contains("predicted"));
    EXPECT_FALSE(
        lanes().curves().explained_at({lanes().x_of(hz), lanes().y_of(Lane::magnitude, -15)}));
}

TEST_F(ComparisonTest, UnitsSwitchTheAxisNotTheCurves) {
    const double x = lanes().x_of(1000), y = lanes().y_of(Lane::delay, 5);
    change_view([](LaneView& v) {
        v.frequency_unit = AxisUnit::rad_per_sample;
        v.delay_unit = TimeUnit::samples;
        v.radians = true;
    });
    EXPECT_NEAR(lanes().x_of(1000), x, 1e-9);
    EXPECT_NEAR(lanes().y_of(Lane::delay, 5), y, 1e-6);
    EXPECT_NEAR(lanes().value_axis(Lane::delay)->range().upper, 20 * 48, 1e-9);
    EXPECT_NEAR(lanes().value_axis(Lane::phase)->range().upper, pi, 1e-12);
    EXPECT_NEAR(lanes().value_axis(Lane::delay)->coordToPixel(5 * 48), y, 1.5);
    change_view([](LaneView& v) { v.level = LevelScale::linear_ratio; });
    EXPECT_NEAR(lanes().value_axis(Lane::magnitude)->coordToPixel(2),
                lanes().y_of(Lane::magnitude, db_from_ratio(2)), 1.5);
    EXPECT_NEAR(lanes().value_at(Lane::magnitude, lanes().y_of(Lane::magnitude, -7)), -7, 1e-9);
    change_view([](LaneView& v) { v.linear_frequency = true; });
    EXPECT_NEAR(lanes().x_of(12000), lane(Lane::magnitude).center().x(), 1.5);
    EXPECT_NEAR(lanes().hz_at(lanes().x_of(5000)), 5000, 1e-6);
}

TEST_F(ComparisonTest, AxesOpenMenusOfUnitsWhenClicked) {
    const QRect delay = lane(Lane::delay);
    for (const QPoint at : {QPoint(delay.left() - 20, delay.center().y()),
                            QPoint(delay.center().x(), delay.bottom() + 28)}) {
        QTest::mouseClick(&lanes(), Qt::LeftButton, {}, at);
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        ASSERT_NE(menu, nullptr);
        EXPECT_GT(menu->actions().size(), 5);
        menu->close();
        QApplication::processEvents();
    }
    QMenu menu;
    fill_lane_menu(menu, lanes(), Lane::delay);
    for (QAction* action : menu.actions()) {
        if (action->text() == "phase delay") {
            action->trigger();
        }
    }
    EXPECT_EQ(lanes().view().delay, DelayKind::phase);
}

TEST_F(ComparisonTest, DraggingMagnifiesAndHomeComesBack) {
    const QRect top = lane(Lane::magnitude);
    const double low = lanes().hz_at(top.left() + 150), high = lanes().hz_at(top.left() + 320);
    drag(lanes(), QPointF(top.left() + 150, top.bottom() - 40),
         QPointF(top.left() + 320, top.bottom() - 90));
    EXPECT_NEAR(lanes().zoom().low_hz, low, low * 0.01);
    EXPECT_NEAR(lanes().zoom().high_hz, high, high * 0.01);
    EXPECT_TRUE(lanes().is_magnified());
    EXPECT_TRUE(lanes().magnified_text(Lane::magnitude).contains("dB shown"));
    EXPECT_TRUE(lanes().magnified_text(Lane::phase).isEmpty());
    const LaneZoom first = lanes().zoom();
    // A flat band: frequencies only.
    drag(lanes(), QPointF(top.left() + 100, top.bottom() - 40),
         QPointF(top.left() + 300, top.bottom() - 38));
    EXPECT_EQ(lanes().zoom().of(Lane::magnitude), first.of(Lane::magnitude));
    EXPECT_GT(lanes().zoom().low_hz, first.low_hz);
    QTest::keyClick(&lanes(), Qt::Key_Backspace);
    EXPECT_EQ(lanes().zoom(), first);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, top.topLeft() + QPoint(20, 12));
    EXPECT_FALSE(lanes().is_magnified()) << "a click on what says so leads home";
    EXPECT_FALSE(session().plumb().is_pinned());
    lanes().magnify(first);
    QTest::keyClick(&lanes(), Qt::Key_Home);
    EXPECT_FALSE(lanes().is_magnified());
    EXPECT_EQ(lanes().zoom().low_hz, 20);
    EXPECT_FALSE(session().is_modified()) << "looking changes nothing";
}

TEST_F(ComparisonTest, AChosenSmallRangeIsLabelledToo) {
    lanes().change_range(Lane::magnitude, {-1, 1, 0.5});
    EXPECT_EQ(lanes().magnified_text(Lane::magnitude), "±1 dB shown");
    EXPECT_FALSE(lanes().is_magnified()) << "it is where home leads to";
    lanes().change_range(Lane::magnitude, {-60, 20, 20});
    EXPECT_TRUE(lanes().magnified_text(Lane::magnitude).isEmpty());
}

TEST_F(ComparisonTest, TwoSidedAndMirroredViewsFoldTheFrequency) {
    change_view([](LaneView& v) { v.span = FrequencySpan::two_sided; });
    EXPECT_TRUE(lanes().shows_all_frequencies());
    EXPECT_EQ(lanes().zoom().low_hz, -24000);
    EXPECT_TRUE(lanes().view().linear_frequency);
    EXPECT_NEAR(lanes().hz_at(lanes().x_of(-3000)), 3000, 1e-6);
    change_view([](LaneView& v) { v.span = FrequencySpan::mirrored; });
    EXPECT_EQ(lanes().zoom().high_hz, 48000);
    EXPECT_NEAR(lanes().hz_at(lanes().x_of(45000)), 3000, 1e-6);
    // Every level curve is even, every phase curve odd about Nyquist.
    for (const LaneCurve curve : lanes().all_curves()) {
        const QCPGraph* graph = curve.graph();
        const bool of_phase = graph->valueAxis() == lanes().value_axis(Lane::phase);
        const auto data = graph->data();
        if (data->size() < 100 || graph->lineStyle() == QCPGraph::lsNone) {
            continue;
        }
        const double first = data->at(3)->value, last = data->at(data->size() - 4)->value;
        EXPECT_NEAR(data->at(3)->key + data->at(data->size() - 4)->key, 48000, 1e-6);
        if (std::isfinite(first) && std::isfinite(last)) {
            EXPECT_NEAR(last, of_phase ? -first : first, 1e-9);
        }
    }
}

TEST_F(ComparisonTest, LanesComeAndGo) {
    change_view([](LaneView& v) { v.show(Lane::phase, false); });
    EXPECT_TRUE(lane(Lane::phase).isEmpty());
    EXPECT_GT(lane(Lane::delay).height(), 120);
    change_view([](LaneView& v) {
        v.show(Lane::magnitude, false);
        v.show(Lane::phase, true);
    });
    session().select_stage(id(4));
    EXPECT_FALSE(lanes().stage_grips().grip_point()) << "no lane, no handle";
    EXPECT_FALSE(window->grab().isNull());
    change_view([](LaneView& v) { v.visible = {false, false, false, false}; });
    EXPECT_FALSE(lane(Lane::magnitude).isEmpty()) << "one lane always stands";
}

TEST_F(ComparisonTest, TwoPlumbLinesReadDifferences) {
    const QPointF first(lanes().x_of(500), lane(Lane::phase).center().y());
    const QPointF second(lanes().x_of(2000), lane(Lane::phase).center().y());
    hover(lanes(), second);
    QTest::mouseClick(&lanes(), Qt::LeftButton, Qt::ShiftModifier, second.toPoint());
    EXPECT_FALSE(session().plumb().second_hz()) << "there must be a first one";
    session().plumb().pin(false);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, first.toPoint());
    QTest::mouseClick(&lanes(), Qt::LeftButton, Qt::ShiftModifier, second.toPoint());
    ASSERT_TRUE(session().plumb().second_hz());
    const double from = *session().plumb().hz(), to = *session().plumb().second_hz();
    const auto rows = lanes().curves().differences_between(from, to);
    EXPECT_EQ(rows[0].name, "octaves");
    EXPECT_NEAR(rows[0].value.mid(1).toDouble(), std::log2(to / from), 0.001);
    const auto a = session().point_at(from), b = session().point_at(to);
    const auto chain = std::ranges::find(rows, "chain", &ReadoutRow::name);
    ASSERT_NE(chain, rows.end());
    EXPECT_NEAR(QString(chain->value).replace(QChar(0x2212), '-').remove(" dB").toDouble(),
                b->chain.magnitude_db - a->chain.magnitude_db, 0.006);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, first.toPoint());
    EXPECT_FALSE(session().plumb().second_hz()) << "the first one is up again";
}

TEST_F(ComparisonTest, TheVerdictPaneListsAllChannelsAndLeadsThere) {
    window->show_verdict();
    QTreeWidget* tree = window->verdict_pane()->tree();
    ASSERT_EQ(tree->topLevelItemCount(), 7);
    EXPECT_TRUE(tree->topLevelItem(0)->text(0).contains("Zenith"));
    EXPECT_EQ(tree->topLevelItem(1)->childCount(), 3);
    EXPECT_TRUE(window->verdict_pane()->summary().contains("are not"));
    QTreeWidgetItem* missed = tree->topLevelItem(1)->child(1);
    EXPECT_TRUE(missed->text(0).startsWith(QStringLiteral("◇")));
    tree->scrollToItem(missed);
    QTest::mouseClick(tree->viewport(), Qt::LeftButton, {}, tree->visualItemRect(missed).center());
    EXPECT_EQ(session().selection().channel, 1);
    const Finding& finding = session().analysis()->verdict[1];
    EXPECT_EQ(session().plumb().hz(), finding.worst_hz);
    EXPECT_TRUE(lanes().is_magnified());
    EXPECT_TRUE(lanes().zoom().low_hz < *finding.worst_hz
                && lanes().zoom().high_hz > *finding.worst_hz);
    // Curve and limit are both in view.
    const double level = *session().point_at(*finding.worst_hz)->predicted_db;
    const LaneRange& shown = lanes().range(Lane::magnitude);
    EXPECT_TRUE(level > shown.low && level < shown.high);
    EXPECT_TRUE(level + *finding.margin > shown.low);
    lanes().zoom_back();
    EXPECT_FALSE(lanes().is_magnified()) << "one step back leads out";
}

TEST_F(ComparisonTest, TheBarsFindingsLeadToACloserLook) {
    session().select_channel(1);
    FindingButton* button = window->verdict()->findings()[0];
    QTest::mouseClick(button, Qt::LeftButton);
    const double first = *session().plumb().hz();
    QTest::mouseClick(window->verdict()->findings()[1], Qt::LeftButton);
    EXPECT_NE(*session().plumb().hz(), first);
    lanes().zoom_back();
    EXPECT_FALSE(lanes().is_magnified()) << "from finding to finding, then one step out";
}

TEST_F(ComparisonTest, TheWorkingShowsTheSelectedStagesNumbers) {
    window->show_working();
    EXPECT_FALSE(window->working_pane()->tree()->isVisible());
    session().select_stage(id(1));
    QTreeWidget* tree = window->working_pane()->tree();
    ASSERT_TRUE(tree->isVisible());
    EXPECT_EQ(tree->topLevelItem(0)->child(0)->text(0), "f0");
    EXPECT_EQ(tree->topLevelItem(0)->child(0)->text(1), "63 Hz");
    EXPECT_GE(tree->topLevelItemCount(), 5);
    for (QPushButton* button : window->working_pane()->findChildren<QPushButton*>()) {
        QTest::mouseClick(button, Qt::LeftButton);
    }
    EXPECT_TRUE(QGuiApplication::clipboard()->text().contains("Coefficients divided by a0"));
}

TEST_F(ComparisonTest, LanesAreSavedAsPicturesAndNumbers) {
    const QString folder = QString::fromStdString(scratch.folder().string());
    for (const char* ending : {"png", "svg", "pdf", "csv"}) {
        const QString path = folder + "/lanes." + ending;
        const auto saved = save_lanes(lanes(), Lane::magnitude, path);
        ASSERT_TRUE(saved) << to_text(saved.error());
        EXPECT_GT(QFileInfo(path).size(), 2000) << ending;
    }
    EXPECT_EQ(QImage(folder + "/lanes.png").width(), 2 * lanes().width());
    EXPECT_TRUE(test::bytes_of(scratch.file("lanes.pdf")).starts_with("%PDF"));
    QXmlStreamReader xml(QByteArray::fromStdString(test::bytes_of(scratch.file("lanes.svg"))));
    int lines = 0;
    while (!xml.atEnd()) {
        xml.readNext();
        lines += xml.isStartElement() && xml.name() == QStringLiteral("polyline") ? 1 : 0;
    }
    EXPECT_FALSE(xml.hasError()) << xml.errorString().toStdString();
    EXPECT_GT(lines, 3) << "curves are lines, not a photograph";
    const std::string csv = test::bytes_of(scratch.file("lanes.csv"));
    EXPECT_TRUE(csv.starts_with("frequency_hz,measured_db,predicted_db"));
    EXPECT_NE(csv.find("\"first pass db\""), std::string::npos);
    EXPECT_GT(std::ranges::count(csv, '\n'), 600);
    EXPECT_FALSE(save_lanes(lanes(), {}, folder + "/lanes.bmp"));
    EXPECT_FALSE(save_lanes(lanes(), {}, "/no/such/folder/lanes.png"));
    copy_lanes(lanes(), {});
    EXPECT_EQ(QGuiApplication::clipboard()->image().height(), 2 * lanes().height());
}

} // namespace
} // namespace syntonon
