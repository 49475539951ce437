// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/signals_view.h"

#include "app/plot/sample_plot.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/exchange/difference_equation.h"

#include <QFontDatabase>
#include <QLabel>
#include <QPlainTextEdit>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr int shown_digits = 7; // a section fits on a line

QString signal_name(SignalKind kind) {
    return kind == SignalKind::impulse ? QObject::tr("impulse")
           : kind == SignalKind::step  ? QObject::tr("step")
                                       : QObject::tr("numbers");
}

} // namespace

class SignalsView::Plot : public QWidget {
public:
    Plot() {
        setAttribute(Qt::WA_OpaquePaintEvent);
        setMinimumHeight(110);
    }
    void show_signal(const QString& title, const std::vector<double>& values, bool is_output,
                     double sample_rate_hz, const QString& why_nothing = {}) {
        title_ = title;
        why_nothing_ = why_nothing;
        values_ = values;
        is_output_ = is_output;
        sample_rate_hz_ = sample_rate_hz;
        setAccessibleName(title);
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        const Theme& t = theme();
        QPainter painter(this);
        painter.fillRect(rect(), t.panel);
        const QRectF area(60, 26, width() - 84, height() - 50);
        painter.setFont(text_font(11));
        painter.setPen(t.soft);
        painter.drawText(QRectF(60, 6, width() - 84, 16), Qt::AlignLeft | Qt::AlignVCenter, title_);
        const bool bounded = std::ranges::all_of(
            values_, [](double v) { return std::isfinite(v) && std::abs(v) < 1e12; });
        if (values_.empty() || !bounded) {
            painter.setPen(t.not_met);
            painter.drawText(area, Qt::AlignCenter,
                             values_.empty() ? why_nothing_
                                             : tr("◇ grows without end: the chain is unstable"));
            return;
        }
        SampleStyle style;
        style.marks_main = true;
        const SamplePlot plot(values_, style);
        plot.paint(painter, area, is_output_ ? t.ink : t.measured);
        painter.setPen(t.soft);
        const QRectF below(area.left(), area.bottom() + 5, area.width(), 16);
        painter.drawText(below, Qt::AlignLeft | Qt::AlignVCenter, "0");
        painter.drawText(below, Qt::AlignHCenter | Qt::AlignVCenter, plot.note());
        const auto last = static_cast<double>(values_.size() - 1);
        painter.drawText(
            below, Qt::AlignRight | Qt::AlignVCenter,
            tr("n = %1 · %2 ms").arg(last).arg(last / sample_rate_hz_ * 1e3, 0, 'g', 3));
    }

private:
    QString title_, why_nothing_;
    std::vector<double> values_;
    bool is_output_ = false;
    double sample_rate_hz_ = 48000;
};

SignalsView::SignalsView(Session& session, TestSignal& signal, QWidget* parent)
    : QWidget(parent), session_(session), signal_(signal), in_plot_(new Plot), out_plot_(new Plot),
      equation_(new QPlainTextEdit) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(in_plot_, 3);
    column->addWidget(out_plot_, 3);
    auto* caption = new QLabel(tr("Difference equation of the chain"));
    caption->setContentsMargins(16, 8, 16, 4);
    caption->setFont(text_font(11));
    caption->setForegroundRole(QPalette::PlaceholderText);
    column->addWidget(caption);
    equation_->setReadOnly(true);
    equation_->setLineWrapMode(QPlainTextEdit::NoWrap);
    equation_->setAccessibleName(caption->text());
    equation_->setFrameShape(QFrame::NoFrame);
    equation_->setMinimumHeight(80);
    QFont fixed = QFontDatabase::systemFont(QFontDatabase::FixedFont);
    fixed.setPixelSize(11);
    equation_->setFont(fixed);
    caption->setBuddy(equation_);
    column->addWidget(equation_, 2);
    connect(&signal_, &TestSignal::changed, this, &SignalsView::refresh);
    connect(&session_, &Session::analysis_changed, this, &SignalsView::refresh);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, &SignalsView::refresh);
}

QString SignalsView::equation() const {
    return equation_->toPlainText();
}

void SignalsView::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void SignalsView::refresh() {
    if (!isVisible()) {
        return;
    }
    const auto analysis = session_.analysis();
    in_ = signal_.samples();
    out_.clear();
    QStringList lines;
    const bool is_analog = session_.axis().is_analog();
    if (analysis != nullptr) {
        if (!is_analog) {
            out_ = in_;
            analysis->chain.run(out_);
        }
        for (const std::string& line : difference_equations(analysis->chain, shown_digits)) {
            lines << QString::fromStdString(line);
        }
    }
    const QString text = lines.join('\n');
    if (text != equation_->toPlainText()) {
        equation_->setPlainText(text);
    }
    const double rate = session_.study().sample_rate_hz;
    in_plot_->show_signal(tr("in · %1").arg(signal_name(signal_.kind())), in_, false, rate);
    const QString channel = session_.channel() != nullptr
                                ? QString::fromStdString(session_.channel()->name)
                                : QString();
    out_plot_->show_signal(
        tr("out · chain of %1").arg(channel), out_, true, rate,
        is_analog ? tr("an analog channel has no samples: map it into a sampled one to hear it")
                  : tr("there is no chain to send it through"));
    emit worked_out();
}

} // namespace syntonon
