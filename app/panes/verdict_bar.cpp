// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/verdict_bar.h"

#include "app/widgets/line_text.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/filter/main_delay.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr int least_summary_width = 210, spacing = 8, more_width = 150;

// Small ones keep their digits: a pole can be as near to the circle as one likes.
QString margin_text(double margin) {
    constexpr double small = 1e-3;
    return margin != 0 && std::abs(margin) < small ? shown_number(margin, 2)
                                                   : fixed_number(margin, 4);
}

bool is_unstable(const Finding& finding) {
    return finding.outcome == Outcome::not_met && finding.place.empty()
           && finding.requirement == "stability";
}

QString line_of(const Finding& finding) {
    if (finding.outcome == Outcome::undecided) {
        return QObject::tr("undecided: %1").arg(shown_words(finding.reason));
    }
    const QString unit =
        finding.unit.empty() ? QString() : " " + QString::fromStdString(finding.unit);
    if (!finding.worst_hz && finding.value && finding.limit && !finding.place.empty()) {
        return QObject::tr("%1 of %2%3")
            .arg(shown_number(*finding.value, 4), shown_number(*finding.limit, 4), unit);
    }
    if (is_unstable(finding) && !finding.reason.empty()) {
        return QObject::tr("unstable: %1").arg(shown_words(finding.reason));
    }
    if (!finding.worst_hz) {
        return QObject::tr("margin %1%2")
            .arg(finding.margin ? margin_text(*finding.margin) : QObject::tr("none"), unit);
    }
    const QString where = QString::fromStdString(frequency_text(*finding.worst_hz));
    if (!finding.margin) {
        return QObject::tr("endlessly far out at %1").arg(where);
    }
    const QString amount =
        QString::fromStdString(fmt::format("{:.2f}", std::abs(*finding.margin))) + unit;
    return finding.outcome == Outcome::met ? QObject::tr("%1 to spare at %2").arg(amount, where)
                                           : QObject::tr("%1 over at %2").arg(amount, where);
}

} // namespace

FindingButton::FindingButton(QWidget* parent) : QAbstractButton(parent) {
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
}

void FindingButton::show_finding(const Finding& finding) {
    const QString line = line_of(finding);
    const bool same = line == line_ && finding.requirement == finding_.requirement
                      && finding.outcome == finding_.outcome;
    finding_ = finding;
    if (same) {
        return;
    }
    line_ = line;
    setAccessibleName(shown_words(finding.requirement) + ": "
                      + (finding.outcome == Outcome::met       ? tr("met")
                         : finding.outcome == Outcome::not_met ? tr("not met")
                                                               : tr("undecided"))
                      + ", " + line_);
    setToolTip(finding.worst_hz ? line_ + tr("\nClick for a closer look.") : line_);
    const int wanted = measured_width();
    if (wanted != width_) {
        width_ = wanted;
        updateGeometry();
    }
    update();
}

// Measuring text is dear, and a size hint is asked for many times between two findings.
int FindingButton::measured_width() const {
    const double title = line_width(text_font(11), shown_words(finding_.requirement));
    const double line = line_width(text_font(12, QFont::Medium), line_);
    // In steps, so that a margin that gains a digit does not push its neighbours about.
    const int wanted = static_cast<int>(std::max(title, line)) + 44;
    return std::min(300, (wanted + 23) / 24 * 24);
}

void FindingButton::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF at(12, height() / 2.0 + 1);
    const bool met = finding_.outcome == Outcome::met;
    if (met) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(t.met);
        painter.drawEllipse(at, 5, 5);
    } else {
        painter.setPen(QPen(t.not_met, 1.4,
                            finding_.outcome == Outcome::undecided ? Qt::DotLine : Qt::SolidLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolygon(QPolygonF(
            {at + QPointF(0, -7), at + QPointF(7, 0), at + QPointF(0, 7), at + QPointF(-7, 0)}));
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
    if (hasFocus()) {
        painter.setPen(QPen(t.copper, 1, Qt::DotLine));
        painter.drawRect(rect().adjusted(1, 3, -2, -4));
    }
    const QRect text(26, 6, width() - 30, height() - 12);
    painter.setFont(text_font(11));
    painter.setPen(t.soft);
    draw_line(painter, text, Qt::AlignLeft | Qt::AlignTop,
              elided_line(painter.font(), shown_words(finding_.requirement), text.width()));
    painter.setFont(text_font(12, QFont::Medium));
    painter.setPen(met ? t.text : t.not_met);
    draw_line(painter, text, Qt::AlignLeft | Qt::AlignBottom,
              elided_line(painter.font(), line_, text.width()));
}

VerdictBar::VerdictBar(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), row_(new QWidget(this)), more_(new QPushButton(row_)),
      view_(new QPushButton(this)), jobs_(new JobsBox(session, this)) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setFixedHeight(48);
    setAccessibleName(tr("Verdict"));
    auto* outer = new QHBoxLayout(this);
    outer->setContentsMargins(10, 2, summary_width_ + 16, 2);
    outer->addWidget(row_, 1);
    // What does not fit goes into the menu: it never makes the window wider.
    row_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    outer->addWidget(view_);
    outer->addWidget(jobs_);
    view_->setMenu(new QMenu(view_));
    view_->setToolTip(tr("What is drawn and judged: the design, or the words that a delivery's "
                         "processor gets"));
    view_->hide();
    connect(view_->menu(), &QMenu::aboutToShow, this, &VerdictBar::fill_view_menu);
    auto* inner = new QHBoxLayout(row_);
    inner->setContentsMargins(0, 0, 0, 0);
    inner->setSpacing(spacing);
    more_->setMenu(new QMenu(more_));
    inner->addWidget(more_);
    more_->hide();
    inner->addStretch(1);
    connect(more_->menu(), &QMenu::aboutToShow, this, [this] {
        more_->menu()->clear();
        for (const FindingButton* button : buttons_) {
            const Finding finding = button->finding();
            const QString mark =
                finding.outcome == Outcome::met ? QStringLiteral("●  ") : QStringLiteral("◇  ");
            more_->menu()->addAction(mark + shown_words(finding.requirement) + ":  "
                                         + button->line(),
                                     this, [this, finding] { emit finding_chosen(finding); });
        }
    });
    connect(&session_, &Session::analysis_changed, this, &VerdictBar::refresh);
    connect(&session_, &Session::jobs_changed, this, &VerdictBar::show_jobs);
    refresh();
    show_jobs();
}

void VerdictBar::show_jobs() {
    const bool was_shown = !jobs_->isHidden();
    jobs_->refresh();
    if (was_shown == jobs_->isHidden()) {
        fit();
    }
}

void VerdictBar::make_buttons(std::size_t count) {
    auto* inner = static_cast<QHBoxLayout*>(row_->layout());
    while (buttons_.size() > count) {
        inner->removeWidget(buttons_.back());
        buttons_.back()->hide();
        buttons_.back()->deleteLater();
        buttons_.pop_back();
    }
    while (buttons_.size() < count) {
        auto* button = new FindingButton(row_);
        inner->insertWidget(static_cast<int>(buttons_.size()), button);
        connect(button, &QAbstractButton::clicked, this,
                [this, button] { emit finding_chosen(button->finding()); });
        buttons_.push_back(button);
        button->show();
    }
}

// As designed, or as the words of each delivery that is for a processor.
void VerdictBar::fill_view_menu() {
    QMenu* menu = view_->menu();
    menu->clear();
    const auto add = [&](const QString& text, const std::string& delivery) {
        QAction* action =
            menu->addAction(text, this, [this, delivery] { session_.view_words(delivery); });
        action->setCheckable(true);
        action->setChecked(session_.words_view() == delivery);
    };
    add(tr("As designed"), {});
    for (const Delivery& delivery : session_.study().deliveries) {
        if (!delivery.processor.empty()) {
            add(tr("As the words of %1").arg(shown_words(delivery.name)), delivery.id);
        }
    }
}

void VerdictBar::show_view() {
    const auto& deliveries = session_.study().deliveries;
    const bool has_words = std::ranges::any_of(
        deliveries, [](const Delivery& delivery) { return !delivery.processor.empty(); });
    const Delivery* viewed = delivery_of(session_.study(), session_.words_view());
    const auto analysis = session_.analysis();
    const bool is_stale =
        analysis != nullptr && analysis->words != nullptr && analysis->words->is_out_of_date;
    view_->setVisible(has_words);
    view_->setText(viewed == nullptr ? tr("as designed")
                   : is_stale ? tr("as words of %1, out of date").arg(shown_words(viewed->name))
                              : tr("as words of %1").arg(shown_words(viewed->name)));
    view_->setAccessibleName(tr("View: %1").arg(view_->text()));
}

void VerdictBar::refresh() {
    show_view();
    const auto analysis = session_.analysis();
    make_buttons(analysis != nullptr ? analysis->verdict.size() : 0);
    for (std::size_t i = 0; i < buttons_.size(); ++i) {
        buttons_[i]->show_finding(analysis->verdict[i]);
    }
    summarise();
    fit();
    update(QRect(width() - summary_width_ - 16, 0, summary_width_ + 16, height()));
}

// Where an FIR makes most of the signal late though its first sample comes at once.
QString main_sample_words(const Filter& chain, const Axis& axis) {
    const double main = main_delay_samples(chain);
    return main <= chain.latency_samples()
               ? QString()
               : QObject::tr(" · main at %1 (%2)")
                     .arg(main)
                     .arg(QString::fromStdString(time_text(main / axis.sample_rate_hz)));
}

// What the chain costs, in two lines as wide as they need.
void VerdictBar::summarise() {
    const auto analysis = session_.analysis();
    if (analysis == nullptr) {
        summary_.clear();
        return;
    }
    const Cost& cost = analysis->cost;
    const auto late = static_cast<double>(analysis->latency_samples);
    QStringList parts;
    if (cost.sections > 0 || cost.taps == 0) {
        parts << counted(cost.sections, "section", "sections");
    }
    if (cost.taps > 0) {
        parts << counted(cost.taps, "tap", "taps");
    }
    summary_ = session_.axis().is_analog()
                   ? QStringList{tr("%1 in s").arg(counted(cost.sections, "section", "sections")),
                                 tr("analog: costs no samples")}
                   : QStringList{tr("%1 · latency %2 %3")
                                         .arg(parts.join(QStringLiteral(" · ")))
                                         .arg(late)
                                         .arg(late == 1 ? tr("sample") : tr("samples"))
                                     + main_sample_words(analysis->chain, session_.axis()),
                                 tr("%1 · %2 · %3")
                                     .arg(counted(cost.multiplies, "multiply", "multiplies"),
                                          counted(cost.adds, "add", "adds"),
                                          counted(cost.state_words, "word", "words"))};
    const QFontMetrics metrics(text_font(11));
    summary_width_ = least_summary_width;
    for (const QString& line : summary_) {
        summary_width_ = std::max(summary_width_, metrics.horizontalAdvance(line) + 4);
    }
    layout()->setContentsMargins(10, 2, summary_width_ + 16, 2);
}

void VerdictBar::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    fit();
}

void VerdictBar::fit() {
    const int jobs_width = jobs_->isHidden() ? 0 : jobs_->sizeHint().width() + spacing;
    const int view_width = view_->isHidden() ? 0 : view_->sizeHint().width() + spacing;
    const int room = width() - 10 - summary_width_ - 16 - jobs_width - view_width;
    std::vector<FindingButton*> by_weight = buttons_;
    std::ranges::stable_sort(by_weight, {}, [](const FindingButton* b) {
        // Unstable before all else, not met before undecided before met; among the met the closest
        // first.
        const Finding& f = b->finding();
        const double rank = is_unstable(f)                    ? -1
                            : f.outcome == Outcome::not_met   ? 0
                            : f.outcome == Outcome::undecided ? 1
                                                              : 2;
        return std::pair(rank, f.outcome == Outcome::met ? f.margin.value_or(1e9) : 0.0);
    });
    const auto wanted = [](const FindingButton* b) { return b->sizeHint().width() + spacing; };
    int all = 0;
    for (const FindingButton* button : buttons_) {
        all += wanted(button);
    }
    const bool fits = all <= room;
    int used = fits ? 0 : more_width + spacing;
    std::size_t hidden = 0, not_met = 0, undecided = 0;
    for (FindingButton* button : by_weight) {
        const bool shown = fits || (hidden == 0 && used + wanted(button) <= room);
        used += shown ? wanted(button) : 0;
        hidden += shown ? 0 : 1;
        const Outcome outcome = button->finding().outcome;
        not_met += !shown && outcome == Outcome::not_met ? 1 : 0;
        undecided += !shown && outcome == Outcome::undecided ? 1 : 0;
        if (button->isHidden() == shown) {
            button->setVisible(shown);
        }
    }
    more_->setVisible(hidden > 0);
    more_->setText(not_met > 0     ? tr("◇ %1 more, %2 not met").arg(hidden).arg(not_met)
                   : undecided > 0 ? tr("◌ %1 more, %2 undecided").arg(hidden).arg(undecided)
                                   : tr("● %1 more, all met").arg(hidden));
    more_->setAccessibleName(more_->text());
}

void VerdictBar::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter painter(this);
    painter.fillRect(rect(), t.ground);
    painter.setPen(t.hairline);
    painter.drawLine(0, 0, width(), 0);
    if (summary_.isEmpty()) {
        return;
    }
    const QRect text(width() - summary_width_ - 16, 8, summary_width_, height() - 16);
    painter.setFont(text_font(11));
    painter.setPen(t.soft);
    draw_line(painter, text, Qt::AlignRight | Qt::AlignTop, summary_[0]);
    painter.setPen(t.text);
    draw_line(painter, text, Qt::AlignRight | Qt::AlignBottom, summary_[1]);
}

} // namespace syntonon
