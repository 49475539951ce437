// One page about a channel.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/report/channel_report.h"

#include "tests/app/window_fixture.h"

#include <QFile>
#include <QRegularExpression>
#include <QTemporaryDir>

namespace syntonon {
namespace {

class Report : public test::Window {
protected:
    QByteArray saved(const ChannelReport& report) {
        const QString path = folder_.filePath("report.pdf");
        EXPECT_TRUE(save_report(report, path));
        QFile file(path);
        EXPECT_TRUE(file.open(QIODevice::ReadOnly));
        return file.readAll();
    }
    QTemporaryDir folder_;
};

TEST_F(Report, IsOnePageOfA4) {
    for (const auto& channel : session().study().channels) {
        const auto report = report_of(session(), *channel);
        ASSERT_TRUE(report) << to_text(report.error());
        const QByteArray bytes = saved(*report);
        EXPECT_TRUE(bytes.startsWith("%PDF"));
        EXPECT_EQ(bytes.count("/Type /Page\n"), 1) << channel->id;
        EXPECT_TRUE(QString::fromLatin1(bytes).contains(
            QRegularExpression(R"(/MediaBox \[0 0 595(\.\d+)? 842(\.\d+)?\])")));
    }
}

TEST_F(Report, SaysWhatStands) {
    const Channel& sunrise = *session().study().channels[1];
    const auto report = report_of(session(), sunrise);
    ASSERT_TRUE(report);
    EXPECT_EQ(report->channel, "Sunrise");
    ASSERT_TRUE(report->result);
    EXPECT_EQ(report->result->positions.size(), 4U);
    EXPECT_EQ(name_of_report(*report), "sunrise_report.pdf");
    EXPECT_TRUE(report->stages_of == sunrise);
}

// However many stages and requirements there are, nothing leaves the page: it is painted on one
// that is larger, which stays white beyond.
TEST_F(Report, NothingLeavesThePage) {
    session().select_channel(0);
    session().edit_channel("many", [](Channel& channel) {
        for (int i = 0; i < 200; ++i) {
            Stage stage;
            stage.spec = parametric(ParametricShape::peak, 100 + 10 * i, 0.01, 1);
            give_fresh_ids(stage, channel.stages);
            channel.stages.emplace_back(std::move(stage));
        }
    });
    const auto report = report_of(session(), *session().channel());
    ASSERT_TRUE(report);
    const QRect page(0, 0, 794, 1123);
    QImage paper(page.width() + 100, page.height() + 100, QImage::Format_RGB32);
    paper.fill(Qt::white);
    QPainter painter(&paper);
    paint_report(painter, page, *report);
    painter.end();
    int painted = 0;
    for (int y = 0; y < paper.height(); ++y) {
        for (int x = 0; x < paper.width(); ++x) {
            const bool is_white = paper.pixel(x, y) == QColor(Qt::white).rgb();
            const bool is_inside = x < page.width() - 30 && y < page.height() - 30;
            painted += is_inside && !is_white ? 1 : 0;
            ASSERT_TRUE(is_inside || is_white) << x << ' ' << y;
        }
    }
    EXPECT_GT(painted, 20'000);
}

TEST_F(Report, ARefusalNamesThePlace) {
    const auto report = report_of(session(), *session().study().channels[0]);
    ASSERT_TRUE(report);
    const auto refused = save_report(*report, folder_.filePath("nowhere/report.pdf"));
    ASSERT_FALSE(refused);
    EXPECT_NE(to_text(refused.error()).find("nowhere"), std::string::npos);
    session().edit_channel("broken", [](Channel& channel) {
        Stage stage;
        stage.id = "wrong";
        stage.spec = parametric(ParametricShape::peak, 100'000, 0, 1);
        channel.stages.emplace_back(stage);
    });
    EXPECT_FALSE(report_of(session(), *session().channel()));
}

} // namespace
} // namespace syntonon
