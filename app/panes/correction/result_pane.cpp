// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/correction/result_pane.h"

#include "app/dialogs/report_dialog.h"
#include "app/model/fitter.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr int left_over = 3; // behind the forms

} // namespace

ResultPlot::ResultPlot(QWidget* parent) : QWidget(parent) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMinimumSize(220, 90);
    setAccessibleName(tr("Before the chain and after it"));
}

void ResultPlot::show_result(std::shared_ptr<const BeforeAfter> result, const QColor& after,
                             const QString& otherwise) {
    result_ = std::move(result);
    after_ = after;
    otherwise_ = otherwise;
    update();
}

void ResultPlot::show_left_over(LeftOver left) {
    left_ = std::move(left);
    update();
}

void ResultPlot::show_form(std::optional<BeforeAfterForm> form) {
    form_ = form;
    update();
}

void ResultPlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().ground);
    painter.setFont(text_font(11));
    const auto say = [&](const QString& why) {
        painter.setPen(theme().soft);
        painter.drawText(rect().adjusted(16, 0, -16, 0), Qt::AlignCenter | Qt::TextWordWrap, why);
    };
    const BeforeAfterStyle style{theme(), after_};
    if (!form_) {
        if (left_.hz.empty()) {
            say(tr("Nothing was fitted yet."));
        } else {
            paint_left_over(painter, rect(), left_, style);
        }
    } else if (result_ == nullptr) {
        say(otherwise_);
    } else if (*form_ != BeforeAfterForm::level && result_->together.impulse_before.empty()) {
        say(tr("Not every position of the set has phase: nothing can be said about time. Measure "
               "impulse responses."));
    } else {
        paint_before_after(painter, rect(), *result_, *form_, style);
    }
}

ResultPane::ResultPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), plot_(new ResultPlot), form_(new QComboBox),
      report_(new QPushButton(tr("Report…"))), words_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 8, 6);
    column->setSpacing(4);
    column->addWidget(plot_, 1);
    auto* row = new QHBoxLayout;
    form_->addItems({tr("Level"), tr("Impulse"), tr("Step"), tr("Left over")});
    form_->setAccessibleName(tr("What is shown of it"));
    row->addWidget(form_);
    row->addWidget(words_, 1);
    row->addWidget(report_);
    column->addLayout(row);
    words_->setFont(text_font(11));
    words_->setWordWrap(true);
    words_->setForegroundRole(QPalette::PlaceholderText);
    report_->setToolTip(tr("One page about the channel: curves, verdict, stages (PDF)"));
    connect(form_, &QComboBox::currentIndexChanged, this, [this](int index) {
        plot_->show_form(index < left_over ? std::optional(static_cast<BeforeAfterForm>(index))
                                           : std::nullopt);
        say();
    });
    connect(&session_.fitter(), &Fitter::changed, this, &ResultPane::refresh_left_over);
    connect(&session_, &Session::selection_changed, this, &ResultPane::refresh_left_over);
    connect(report_, &QPushButton::clicked, this, [this] {
        if (const auto saved = ask_save_report(session_, this); !saved) {
            words_->setText(QString::fromStdString(to_text(saved.error())));
        }
    });
    connect(&session_, &Session::analysis_changed, this, &ResultPane::refresh);
}

QString ResultPane::words() const {
    return words_->text();
}

void ResultPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void ResultPane::refresh() {
    const Channel* channel = session_.channel();
    const auto analysis = session_.analysis();
    if (!isVisible() || channel == nullptr || analysis == nullptr || analysis == of_) {
        return;
    }
    of_ = analysis;
    const auto met = std::ranges::count(analysis->verdict, Outcome::met, &Finding::outcome);
    verdict_ = tr("%1 of %2 requirements are met").arg(met).arg(analysis->verdict.size());
    later_.clear();
    refresh_left_over();
    const QColor colour =
        channel_colour(QString::fromStdString(channel->colour), session_.selection().channel);
    if (analysis->measured == nullptr) {
        work_.stop();
        plot_->show_result(nullptr, colour, tr("The channel has no measured set."));
        return;
    }
    work_.begin(
        [analysis, axis = session_.axis()](const Watch&) {
            return std::make_shared<const BeforeAfter>(before_after_of(
                *analysis->measured, analysis->chain, axis, shown_target(*analysis)));
        },
        [this, colour](const std::shared_ptr<const BeforeAfter>& result) {
            plot_->show_result(result, colour, {});
            later_ = result->later_s != 0 ? tr("; the sound comes %1 ms later")
                                                .arg(fixed_number(1e3 * result->later_s, 2))
                                          : QString();
            say();
        });
}

// Resolution is no reason for a second layer: where nothing is left over, it would find nothing.
void ResultPane::refresh_left_over() {
    const Stage* stage = session_.stage();
    const auto state = stage != nullptr ? session_.fitter().state_of(stage->id) : nullptr;
    LeftOver left;
    double greatest = 0;
    if (state != nullptr && state->figures && state->figures->found > 0) {
        left = {state->figures->hz, state->figures->left_over_db};
        for (const double db : left.db) {
            greatest = std::max(greatest, std::abs(db));
        }
    }
    left_ = left.hz.empty() ? QString()
                            : tr("At most %1 dB are left over: all that a second correction of the "
                                 "same aim could find")
                                  .arg(shown_number(greatest, 2));
    plot_->show_left_over(std::move(left));
    say();
}

void ResultPane::say() {
    words_->setText(form_->currentIndex() == left_over ? left_ : verdict_ + later_);
}

} // namespace syntonon
