// The manual: that its pages hang together, and that F1 finds the one of the place.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/help/manual_places.h"
#include "app/help/manual_window.h"
#include "app/top_bar.h"
#include "tests/app/every_view.h"
#include "tests/app/window_fixture.h"
#include "tests/support/places.h"

#include <QDir>
#include <QFileInfo>
#include <QMenu>
#include <QMenuBar>
#include <QPointer>
#include <QRegularExpression>
#include <QScrollBar>
#include <QSignalSpy>
#include <QTableWidget>
#include <QTextBlock>
#include <QTextBrowser>
#include <QToolButton>
#include <QTreeWidget>
#include <QTreeWidgetItemIterator>

namespace syntonon {
namespace {

QStringList matches(const QString& text, const char* pattern) {
    QStringList all;
    for (auto at = QRegularExpression(pattern).globalMatch(text); at.hasNext();) {
        all << at.next().captured(1);
    }
    return all;
}

bool is_there(const ManualSpot& spot) {
    const auto page = manual_page(spot.page);
    return page
           && (spot.section.isEmpty()
               || std::ranges::any_of(page->text.split('\n'), [&](const QString& line) {
                      static const QRegularExpression marks("^#+ ");
                      return line.startsWith('#')
                             && slug_of(QString(line).remove(marks)) == spot.section;
                  }));
}

TEST(ManualPages, EveryLinkAndPictureLeadsSomewhere) {
    const auto pages = manual_pages();
    ASSERT_GT(pages.size(), 20);
    for (const ManualPage& page : pages) {
        EXPECT_FALSE(page.title.isEmpty()) << page.name.toStdString();
        for (const QString& link : matches(page.text, R"([^!]\[[^\]]+\]\(([^)]+)\))")) {
            ManualSpot spot = spot_of(link);
            spot.page = spot.page.isEmpty() ? page.name : spot.page;
            EXPECT_TRUE(is_there(spot)) << page.name.toStdString() << ": " << link.toStdString();
        }
        for (const QString& picture : matches(page.text, R"(!\[[^\]]+\]\(([^)]+)\))")) {
            EXPECT_TRUE(QFileInfo::exists(manual_folder() + "/" + picture))
                << picture.toStdString();
        }
    }
}

TEST(ManualPages, AllAreInTheContentsOnce) {
    QStringList names;
    for (const ManualPage& page : manual_pages()) {
        EXPECT_FALSE(names.contains(page.name)) << page.name.toStdString();
        names << page.name;
    }
    QStringList files = QDir(manual_folder()).entryList({"*.md"});
    files.replaceInStrings(".md", "");
    names.sort();
    files.sort();
    EXPECT_EQ(names, files);
}

TEST(ManualPages, TermsOfTheGlossaryNameTheirSource) {
    const auto glossary = manual_page("glossary");
    ASSERT_TRUE(glossary && glossary->sections.size() > 50);
    static const QRegularExpression source(R"(\b(19|20)\d\d\b|ITU-R|ISO |IEC |AES|Ours)");
    for (const ManualSection& term : glossary->sections) {
        EXPECT_TRUE(source.match(term.text).hasMatch()) << term.title.toStdString();
    }
}

TEST(ManualPages, NothingOutsideIsRead) {
    for (const char* name : {"../../README", "/etc/hostname", "..", "", "chain/../chain"}) {
        EXPECT_FALSE(manual_page(name)) << name;
    }
}

TEST(ManualPlaces, EverySpotIsThere) {
    for (const ManualSpot& spot : all_manual_spots()) {
        EXPECT_TRUE(is_there(spot)) << spot.page.toStdString() << "#" << spot.section.toStdString();
    }
}

class Manual : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        qApp->installEventFilter(&key);
    }
    void TearDown() override {
        qApp->removeEventFilter(&key);
        if (ManualWindow* shown = manual()) {
            delete shown;
        }
        Window::TearDown();
    }
    static ManualWindow* manual() {
        for (QWidget* each : QApplication::topLevelWidgets()) {
            if (auto* found = qobject_cast<ManualWindow*>(each)) {
                return found;
            }
        }
        return nullptr;
    }
    static QString heading_at_top(const ManualWindow& shown) {
        return shown.page()->cursorForPosition({40, 12}).block().text();
    }

    ManualKey key{nullptr};
};

// "Stage · Add · Crossover", as far as menus go; submenus are filled as when they open.
void collect_paths(QMenu& menu, const QString& path, QStringList& paths) {
    emit menu.aboutToShow();
    for (QAction* action : menu.actions()) {
        const QString name = path + " · " + action->text().remove('&').section('\t', 0, 0);
        if (!action->isSeparator()) {
            paths << name;
        }
        if (action->menu() != nullptr && name.count("·") < 5) {
            collect_paths(*action->menu(), name, paths);
        }
    }
}

TEST_F(Manual, EveryMenuPathThatItNamesIsThere) {
    session().select_stage(id(4));
    QStringList paths;
    for (QAction* top : window->top_bar()->menus()->actions()) {
        collect_paths(*top->menu(), top->text().remove('&'), paths);
    }
    int named = 0;
    for (const ManualPage& page : manual_pages()) {
        for (const QString& path : matches(
                 page.text, R"(\*((?:Study|Edit|Channel|Stage|Goal|Takes|View|Help) · [^*]+)\*)")) {
            ++named;
            const bool is_there = std::ranges::any_of(paths, [&](const QString& each) {
                return each == path || each == path + "…" || each.startsWith(path + " · ");
            });
            EXPECT_TRUE(is_there) << page.name.toStdString() << ": " << path.toStdString();
        }
    }
    EXPECT_GT(named, 25);
}

TEST_F(Manual, EveryKeyThatItNamesDoesSomething) {
    QStringList keys;
    for (const QAction* action : window->findChildren<QAction*>()) {
        keys << action->shortcut().toString();
    }
    for (const ManualPage& page : manual_pages()) {
        for (const QString& named :
             matches(page.text, R"(\(((?:(?:Ctrl|Alt|Shift)\+)+\w+|F\d+)\))")) {
            EXPECT_TRUE(keys.contains(QKeySequence(named).toString()))
                << page.name.toStdString() << ": " << named.toStdString();
        }
    }
}

TEST_F(Manual, EveryPlaceThatCanHaveTheFocusHasAPage) {
    const ManualSpot contents{"contents", {}};
    std::set<QString> pages;
    const auto look = [&](const std::string& where) {
        for (const QWidget* each : window->findChildren<QWidget*>()) {
            if (each->isVisible() && each->focusPolicy() != Qt::NoFocus) {
                const ManualSpot spot = manual_spot_of(each);
                pages.insert(spot.page);
                EXPECT_NE(spot.page, contents.page)
                    << where << ": " << each->metaObject()->className() << " in "
                    << each->parentWidget()->metaObject()->className();
            }
        }
    };
    test::each_desk(*window, look);
    test::each_page_of_shape(*window, look);
    test::each_tab_of_the_goal(*window, look);
    test::each_kind_of_stage(*window, look);
    EXPECT_GT(pages.size(), 14u);
}

TEST_F(Manual, F1OpensThePageOfThePlaceInHand) {
    window->show_desk(Desk::shape);
    lanes().setFocus();
    QTest::keyClick(&lanes(), Qt::Key_F1);
    ASSERT_NE(manual(), nullptr);
    EXPECT_EQ(manual()->spot(), (ManualSpot{"read", {}}));
    window->activateWindow();
    window->show_goal();
    window->goal_pane()->show_tab(1);
    auto* inside = window->goal_pane()->findChild<QTableWidget*>();
    ASSERT_NE(inside, nullptr);
    inside->setFocus();
    QTest::keyClick(inside, Qt::Key_F1);
    EXPECT_EQ(manual()->spot().page, "goal");
    EXPECT_FALSE(manual()->spot().section.isEmpty());
}

TEST_F(Manual, ASectionStandsAtTheTop) {
    show_manual({"chain", "classical-filters"});
    QTest::qWait(50);
    EXPECT_EQ(heading_at_top(*manual()), "Classical filters");
    show_manual({"chain", {}});
    EXPECT_EQ(manual()->page()->verticalScrollBar()->value(), 0);
}

TEST_F(Manual, PicturesAreNoWiderThanTheWindow) {
    show_manual({"chain", {}});
    for (const int width : {560, 1000, 700}) {
        manual()->resize(width, 600);
        EXPECT_TRUE(QTest::qWaitFor([] {
            return manual()->page()->horizontalScrollBar()->maximum() == 0;
        })) << width;
    }
    QTest::qWait(300);
    const QSignalSpy made_anew(manual()->page()->document(), &QTextDocument::contentsChanged);
    QTest::qWait(400);
    EXPECT_EQ(made_anew.count(), 0) << "it comes to rest";
}

TEST_F(Manual, LinksLeadOnAndBack) {
    show_manual({"contents", {}});
    emit manual()->page()->anchorClicked(QUrl("verdict.md#what-is-guaranteed"));
    EXPECT_EQ(manual()->spot(), (ManualSpot{"verdict", "what-is-guaranteed"}));
    emit manual()->page()->anchorClicked(QUrl("../file-formats.md"));
    EXPECT_EQ(manual()->spot().page, "../file-formats");
    EXPECT_GT(manual()->page()->document()->blockCount(), 50);
    EXPECT_FALSE(manual()->page()->toPlainText().contains("| ---"));
    const auto button = [](const char* name) {
        for (QToolButton* each : manual()->findChildren<QToolButton*>()) {
            if (each->accessibleName() == name) {
                return each;
            }
        }
        return static_cast<QToolButton*>(nullptr);
    };
    ASSERT_TRUE(button("back") != nullptr && button("forward") != nullptr);
    EXPECT_FALSE(button("forward")->isEnabled());
    button("back")->click();
    EXPECT_EQ(manual()->spot().page, "verdict");
    button("forward")->click();
    EXPECT_EQ(manual()->spot().page, "../file-formats");
}

TEST_F(Manual, LookingForLeavesWhatHasTheWords) {
    show_manual({"contents", {}});
    QTest::keyClicks(manual()->search(), "sinc delay");
    QStringList left;
    for (QTreeWidgetItemIterator at(manual()->contents(), QTreeWidgetItemIterator::NotHidden); *at;
         ++at) {
        left << (*at)->text(0);
    }
    EXPECT_TRUE(left.contains("Fractional delay")) << left.join(", ").toStdString();
    EXPECT_FALSE(left.contains("Loudness"));
    manual()->search()->clear();
    EXPECT_FALSE(manual()->contents()->topLevelItem(1)->isHidden());
}

TEST_F(Manual, AMissingPageIsSaid) {
    show_manual({"nowhere", {}});
    EXPECT_NE(manual()->page()->toPlainText().indexOf("missing"), -1);
}

} // namespace
} // namespace syntonon
