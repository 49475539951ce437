// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/report/channel_report.h"

#include "app/model/session.h"
#include "app/plot/before_after_drawing.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/file.h"
#include "core/study/file_names.h"
#include "core/study/kinds.h"

#include <QBuffer>
#include <QDate>
#include <QLocale>
#include <QPdfWriter>
#include <algorithm>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

constexpr double margin = 44, line_gap = 12, row_high = 15;

struct ReportLine {
    QStringList cells;
    int depth = 0;
    std::optional<Outcome> outcome;
};

QString number_of(const std::optional<double>& value, const std::string& unit) {
    const QString text = value ? shown_number(std::abs(*value) < 1e-9 ? 0 : *value, 3) : tr("–");
    return value && !unit.empty() ? text + " " + QString::fromStdString(unit) : text;
}

std::vector<ReportLine> verdict_lines(const Verdict& verdict) {
    std::vector<ReportLine> lines;
    for (const Finding& finding : verdict) {
        const bool is_decided = finding.outcome != Outcome::undecided;
        lines.push_back(
            {{shown_words(finding.requirement),
              is_decided ? number_of(finding.value, finding.unit) : tr("undecided"),
              is_decided ? number_of(finding.limit, finding.unit) : QString(),
              is_decided ? number_of(finding.margin, finding.unit) : QString(),
              finding.worst_hz ? QString::fromStdString(frequency_text(*finding.worst_hz))
                               : QString()},
             0,
             finding.outcome});
    }
    // What is not met comes first: it must not be what there was no room for.
    std::stable_partition(lines.begin(), lines.end(),
                          [](const ReportLine& line) { return line.outcome != Outcome::met; });
    return lines;
}

void add_found(const CorrectionSpec& correction, int depth, std::vector<ReportLine>& lines) {
    const auto* method = std::get_if<SectionsCorrection>(&correction.method);
    if (method == nullptr) {
        return;
    }
    for (const FoundSection& found : method->found) {
        QString about = shown_words(summary_of(found.section));
        if (has_gain(found.section.shape) && found.section.width.kind == WidthKind::q) {
            about += tr(" Q %1").arg(fixed_number(found.section.width.value, 2));
        }
        lines.push_back({{text_of(title_of(found.section.shape)), about}, depth, {}});
    }
}

std::vector<ReportLine> stage_lines(const Chain& chain) {
    std::vector<ReportLine> lines;
    visit_stages(chain, [&](const Stage& stage, const Slot&, int depth) {
        const QString name =
            stage.name.empty() ? text_of(title_of(stage)) : QString::fromStdString(stage.name);
        const QString off = stage.enabled ? QString() : tr(" (off)");
        lines.push_back({{name + off, shown_words(summary_of(stage))}, depth, {}});
        if (const auto* correction = std::get_if<CorrectionSpec>(&*stage.spec)) {
            add_found(*correction, depth + 1, lines);
        }
    });
    return lines;
}

class Page {
public:
    Page(QPainter& painter, const QRectF& page, const ChannelReport& report)
        : painter_(painter), report_(report), page_(page),
          room_(page.adjusted(margin, margin, -margin, -margin)) {}

    void paint() {
        painter_.fillRect(page_, Qt::white);
        head();
        pictures();
        verdict();
        stages();
    }

private:
    const Theme& paper() const { return theme_of(ThemeName::paper); }

    void text(const QRectF& room, Qt::Alignment where, const QString& words, const QColor& colour,
              const QFont& font) {
        painter_.setFont(font);
        painter_.setPen(colour);
        const QString shown = QFontMetricsF(font).elidedText(words, Qt::ElideRight, room.width());
        painter_.drawText(room, static_cast<int>(where | Qt::AlignVCenter), shown);
    }

    QRectF next(double height) {
        const QRectF taken(room_.left(), room_.top(), room_.width(), height);
        room_.setTop(room_.top() + height);
        return taken;
    }

    void head() {
        const QRectF title = next(30);
        painter_.fillRect(QRectF(title.left(), title.top() + 5, 5, 20), report_.colour);
        text(title.adjusted(14, 0, -200, 0), Qt::AlignLeft, report_.channel, paper().text,
             text_font(20, QFont::DemiBold));
        text(title.adjusted(title.width() - 200, 0, 0, 0), Qt::AlignRight, report_.made_on,
             paper().soft, text_font(11));
        QStringList facts{report_.study};
        if (!report_.goal.isEmpty()) {
            facts.push_back(tr("goal: %1").arg(report_.goal));
        }
        facts.push_back(tr("%1 Hz sample rate").arg(shown_number(report_.sample_rate_hz, 6)));
        facts.push_back(
            tr("latency %1 samples").arg(shown_number(report_.analysis->latency_samples, 4)));
        if (report_.result && report_.result->later_s != 0) {
            facts.push_back(tr("the sound comes %1 ms later")
                                .arg(fixed_number(1e3 * report_.result->later_s, 2)));
        }
        text(next(18), Qt::AlignLeft, facts.join(QStringLiteral("  ·  ")), paper().soft,
             text_font(11));
        next(line_gap);
    }

    void pictures() {
        if (!report_.result) {
            text(next(24), Qt::AlignLeft,
                 tr("Nothing was measured for this channel: there is no before and after."),
                 paper().soft, text_font(11));
            next(line_gap);
            return;
        }
        painter_.setFont(text_font(10));
        const BeforeAfterStyle style{paper(), report_.colour, 20,
                                     std::min(20e3, report_.sample_rate_hz / 2)};
        constexpr double level_high = 280, time_high = 180;
        paint_before_after(painter_, next(level_high), *report_.result, BeforeAfterForm::level,
                           style);
        QString about =
            tr("The mean in dB over 1/%1 octave").arg(std::lround(1 / report_.result->width_oct));
        if (!report_.result->positions.empty()) {
            about += tr("; thick: %1 together, thin: each")
                         .arg(counted(static_cast<qint64>(report_.result->positions.size()),
                                      "position", "positions"));
        }
        text(next(16), Qt::AlignLeft, about, paper().soft, text_font(10));
        if (!report_.result->together.impulse_before.empty()) {
            QRectF both = next(time_high);
            painter_.setFont(text_font(10));
            const double half = (both.width() - line_gap) / 2;
            QRectF left = both, right = both;
            left.setWidth(half);
            right.setLeft(both.left() + half + line_gap);
            paint_before_after(painter_, left, *report_.result, BeforeAfterForm::impulse, style);
            paint_before_after(painter_, right, *report_.result, BeforeAfterForm::step, style);
        }
        next(line_gap);
    }

    void title(const QString& words, const QString& beside) {
        const QRectF room = next(20);
        text(room, Qt::AlignLeft, words, paper().text, text_font(13, QFont::DemiBold));
        text(room, Qt::AlignRight, beside, paper().soft, text_font(11));
        painter_.setPen(QPen(paper().hairline, 1));
        painter_.drawLine(room.bottomLeft(), room.bottomRight());
        next(3);
    }

    void verdict() {
        const auto lines = verdict_lines(report_.analysis->verdict);
        const auto met = std::ranges::count(lines, Outcome::met, &ReportLine::outcome);
        title(tr("Verdict"), tr("%1 of %2 requirements are met").arg(met).arg(lines.size()));
        const QStringList head{QString(), tr("value"), tr("limit"), tr("margin"), tr("at")};
        verdict_row(next(row_high), {head, 0, {}});
        // At least a third of what is left is for the stages.
        const auto most = static_cast<std::size_t>(std::max(3.0, 0.6 * room_.height() / row_high));
        for (std::size_t i = 0; i < std::min(lines.size(), most); ++i) {
            verdict_row(next(row_high), lines[i]);
        }
        say_rest(lines.size(), most);
        next(line_gap);
    }

    void say_rest(std::size_t all, std::size_t shown) {
        if (all > shown) {
            text(next(row_high), Qt::AlignLeft, tr("… and %1 more").arg(all - shown), paper().soft,
                 text_font(11));
        }
    }

    void verdict_row(const QRectF& room, const ReportLine& line) {
        constexpr double wide = 84;
        const bool is_met = line.outcome == Outcome::met;
        const QColor colour = !line.outcome ? paper().soft
                              : is_met      ? paper().text
                                            : paper().not_met;
        const QString mark = !line.outcome                      ? QString()
                             : is_met                           ? QStringLiteral("●  ")
                             : line.outcome == Outcome::not_met ? QStringLiteral("◇  ")
                                                                : QStringLiteral("◌  ");
        text(room.adjusted(0, 0, -4 * wide, 0), Qt::AlignLeft, mark + line.cells.front(), colour,
             text_font(11));
        for (int column = 1; column < line.cells.size(); ++column) {
            const QRectF cell(room.right() - (5 - column) * wide, room.top(), wide - 6,
                              room.height());
            text(cell, Qt::AlignRight, line.cells[column], colour, text_font(11));
        }
    }

    // In two columns, one after the other.
    void stages() {
        const auto lines = stage_lines(report_.stages_of.stages);
        title(tr("Stages"),
              counted(static_cast<qint64>(report_.stages_of.stages.size()), "stage", "stages"));
        const auto rows = static_cast<std::size_t>(std::max(1.0, room_.height() / row_high - 1));
        const std::size_t shown = std::min(lines.size(), 2 * rows);
        const std::size_t high = std::min(rows, (shown + 1) / 2);
        const QRectF area = next(static_cast<double>(high) * row_high);
        const double wide = (area.width() - 2 * line_gap) / 2;
        for (std::size_t i = 0; i < shown; ++i) {
            const ReportLine& line = lines[i];
            const double indent = 14.0 * line.depth;
            const std::size_t column = i / high;
            const QRectF cell(area.left() + static_cast<double>(column) * (wide + 2 * line_gap),
                              area.top() + static_cast<double>(i % high) * row_high, wide,
                              row_high);
            constexpr double name_share = 0.42;
            QRectF name = cell.adjusted(indent, 0, 0, 0), about = cell;
            name.setWidth(name_share * wide - indent);
            about.setLeft(cell.left() + name_share * wide + 6);
            text(name, Qt::AlignLeft, line.cells[0], line.depth > 0 ? paper().soft : paper().text,
                 text_font(11));
            text(about, Qt::AlignLeft, line.cells[1], paper().soft, text_font(11));
        }
        say_rest(lines.size(), shown);
    }

    QPainter& painter_;
    const ChannelReport& report_;
    QRectF page_, room_;
};

} // namespace

Expected<ChannelReport> report_of(Session& session, const Channel& channel) {
    const auto analysis = session.analysis_of(channel);
    if (!analysis->problems.empty()) {
        const Problem& why = analysis->problems.front();
        return refuse(channel.name + ": " + why.place, why.reason, why.way_out);
    }
    if (!analysis->waits_for.empty()) {
        return refuse(channel.name, analysis->waits_for + " is being designed",
                      "wait until it is there");
    }
    const Study& study = session.study();
    ChannelReport report;
    report.study = QString::fromStdString(study.name);
    report.channel = QString::fromStdString(channel.name);
    const auto place =
        std::ranges::find(study.channels, channel.id, [](const auto& other) { return other->id; });
    report.colour =
        channel_colour(QString::fromStdString(channel.colour),
                       static_cast<int>(place - study.channels.begin()), ThemeName::paper);
    report.made_on = QLocale::c().toString(QDate::currentDate(), "d MMMM yyyy");
    report.sample_rate_hz = study.sample_rate_hz;
    report.analysis = analysis;
    report.stages_of = channel;
    if (const Goal* goal = goal_of(study, channel)) {
        report.goal = QString::fromStdString(goal->name);
    }
    if (analysis->measured != nullptr) {
        report.result = before_after_of(*analysis->measured, analysis->chain,
                                        axis_of(study, channel), shown_target(*analysis));
    }
    return report;
}

void paint_report(QPainter& painter, const QRectF& page, const ChannelReport& report) {
    Page(painter, page, report).paint();
}

Expected<void> save_report(const ChannelReport& report, const QString& path) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    {
        QPdfWriter writer(&buffer);
        constexpr int pixels_an_inch = 96;
        writer.setResolution(pixels_an_inch);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins(QMarginsF());
        writer.setTitle(report.channel);
        writer.setCreator(QStringLiteral("Syntonon"));
        QPainter painter(&writer);
        paint_report(painter, QRectF(0, 0, writer.width(), writer.height()), report);
    }
    return write_file_atomically(
        path.toStdString(), std::string_view(bytes.data(), static_cast<std::size_t>(bytes.size())));
}

QString name_of_report(const ChannelReport& report) {
    const auto name = file_name("{channel}_report", {{"channel", report.channel.toStdString()}});
    return QString::fromStdString(name.value_or("report")) + QStringLiteral(".pdf");
}

} // namespace syntonon
