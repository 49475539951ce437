// The ways out that messages offer: that every message has one, and that the menus, pages, options
// and files that they name are there. Read off the program's own text.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/top_bar.h"
#include "app/widgets/tab_strip.h"
#include "tests/app/every_view.h"
#include "tests/app/window_fixture.h"
#include "tests/support/places.h"

#include <QDirIterator>
#include <QFileInfo>
#include <QMenuBar>
#include <QProcess>
#include <QRegularExpression>

namespace syntonon {
namespace {

struct Found {
    QString what, where;
};

// In the text of the programs, with neighbouring literals put together.
std::vector<Found> found_in_sources(const char* pattern) {
    const QRegularExpression wanted(pattern);
    static const QRegularExpression between(R"("\s*\n\s*")");
    std::vector<Found> all;
    for (const char* part : {"core", "app", "batch"}) {
        const QString folder = QString::fromStdString(test::source_folder()) + "/" + part;
        QDirIterator files(folder, {"*.cpp", "*.h"}, QDir::Files, QDirIterator::Subdirectories);
        while (files.hasNext()) {
            QFile file(files.next());
            EXPECT_TRUE(file.open(QIODevice::ReadOnly));
            const QString text = QString::fromUtf8(file.readAll()).remove(between);
            for (auto at = wanted.globalMatch(text); at.hasNext();) {
                all.push_back({at.next().captured(1), file.fileName()});
            }
        }
    }
    return all;
}

bool has_way_out(const QString& refusal) {
    int depth = 0, commas = 0;
    bool in_text = false;
    for (qsizetype i = 0; i < refusal.size(); ++i) {
        const QChar c = refusal[i];
        if (c == '"' && refusal[i - 1] != '\\') {
            in_text = !in_text;
        } else if (!in_text) {
            depth += (c == '(' || c == '{') - (c == ')' || c == '}');
            commas += c == ',' && depth == 1;
        }
    }
    return commas >= 2;
}

TEST(WaysOut, EveryRefusalHasOne) {
    // Up to its end; a call of refuse() is a statement or the end of a choice.
    const auto refusals = found_in_sources(R"(\brefuse(\([^;]*\));)");
    ASSERT_GT(refusals.size(), 400u);
    for (const Found& each : refusals) {
        const bool is_state = each.what.startsWith("(\"\","); // as "was stopped"
        EXPECT_TRUE(is_state || has_way_out(each.what) || each.what.contains("std::string way_out"))
            << each.where.toStdString() << ": " << each.what.toStdString();
    }
}

QString help_of(const std::string& program, const QStringList& arguments) {
    QProcess run;
    run.start(QString::fromStdString(program), arguments);
    EXPECT_TRUE(run.waitForFinished(20'000));
    return QString::fromUtf8(run.readAllStandardOutput());
}

TEST(WaysOut, OptionsThatTheyNameAreThere) {
    QString help =
        help_of(test::app_program(), {"--help"}) + help_of(test::batch_program(), {"--help"});
    QStringList commands;
    static const QRegularExpression command(R"(\n  ([a-z]+) )");
    const QString listed = help.mid(help.indexOf("Subcommands:"));
    for (auto at = command.globalMatch(listed); at.hasNext();) {
        commands << at.next().captured(1);
    }
    for (const QString& each : commands) {
        help += help_of(test::batch_program(), {each, "--help"});
    }
    const auto options = found_in_sources(R"re("[^"\n;]*(--[a-z][a-z-]+)[^"\n;]*")re");
    ASSERT_GT(options.size(), 80u);
    for (const Found& each : options) {
        if (each.where.endsWith("instrument_files.cpp")) {
            continue; // of the programs that are handed over
        }
        EXPECT_TRUE(help.contains(each.what + " ") || help.contains(each.what + "\n")
                    || help.contains(each.what + ","))
            << each.where.toStdString() << ": " << each.what.toStdString();
    }
    const auto named =
        found_in_sources(R"re("[^"\n]*(?:the |syntonon-batch )([a-z]+) command\b)re");
    ASSERT_GE(named.size(), 2u);
    for (const Found& each : named) {
        EXPECT_TRUE(commands.contains(each.what))
            << each.where.toStdString() << ": " << each.what.toStdString();
    }
}

TEST(WaysOut, PagesOfTheManualAndFilesThatTheyNameAreThere) {
    const auto files = found_in_sources(R"re("[^"\n]*\b(docs/[a-z-]+\.md))re");
    ASSERT_GE(files.size(), 1u);
    for (const Found& each : files) {
        EXPECT_TRUE(
            QFileInfo::exists(QString::fromStdString(test::source_folder()) + "/" + each.what))
            << each.where.toStdString() << ": " << each.what.toStdString();
    }
}

class WaysOutInTheWindow : public test::Window {
protected:
    QStringList names_of_places() {
        QStringList places{"Goal", "Voices"}; // the pane; what comes with notes
        const auto add_tabs = [&](const std::string&) {
            for (const TabStrip* tabs : window->findChildren<TabStrip*>()) {
                places += tabs->names();
            }
        };
        test::each_desk(*window, add_tabs);
        test::each_page_of_shape(*window, add_tabs);
        for (const Desk desk : all_desks) {
            places << title_of(desk);
        }
        return places;
    }
};

TEST_F(WaysOutInTheWindow, MenusPagesAndDesksThatTheyNameAreThere) {
    QStringList menus;
    for (const QAction* top : window->top_bar()->menus()->actions()) {
        menus << top->text().remove('&');
    }
    const QStringList places = names_of_places();
    const auto of_menus = found_in_sources(R"re("[^"\n]*\b([A-Z][a-z]+) menu\b[^"\n]*")re");
    const auto of_places = found_in_sources(
        R"re("[^"\n]*(?|\b(?:page|desk) ([A-Z][a-z]+)|\(([A-Z][a-z]+) pane\)|the ([A-Z][a-z]+) page))re");
    ASSERT_GE(of_menus.size(), 2u);
    ASSERT_GE(of_places.size(), 8u);
    for (const Found& each : of_menus) {
        EXPECT_TRUE(menus.contains(each.what))
            << each.where.toStdString() << ": " << each.what.toStdString();
    }
    for (const Found& each : of_places) {
        EXPECT_TRUE(places.contains(each.what))
            << each.where.toStdString() << ": " << each.what.toStdString();
    }
}

} // namespace
} // namespace syntonon
