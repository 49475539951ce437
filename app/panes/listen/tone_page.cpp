// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/tone_page.h"

#include "app/plot/picture_scale.h"
#include "app/widgets/flat_button.h"
#include "app/widgets/quantity_edit.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/thin_line.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <vector>

namespace syntonon {
namespace {

constexpr double tone_low_hz = 20;
constexpr int tones_of_a_sweep = 61;

} // namespace

// The chain's level as it is calculated, and rings where it was measured.
class TonePage::Plot : public QWidget {
public:
    explicit Plot(Session& session) : session_(session) {
        setAttribute(Qt::WA_OpaquePaintEvent);
        setMinimumHeight(80);
        setCursor(Qt::SizeHorCursor);
        setAccessibleName(TonePage::tr("Measured and calculated level"));
        setToolTip(TonePage::tr("Drag: pull the tone along"));
    }

protected:
    QRectF area() const { return {48, 6, width() - 64.0, height() - 28.0}; }
    double share_of(double hz) const {
        return std::log(hz / tone_low_hz) / std::log(session_.axis().end_hz() / tone_low_hz);
    }
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.fillRect(rect(), theme().panel);
        painter.setFont(text_font(11));
        if (session_.analysis() != nullptr && session_.channel() != nullptr
            && !session_.axis().is_analog()) {
            const std::vector<QPointF> curve = response();
            paint_axes(painter, curve);
            painter.setRenderHint(QPainter::Antialiasing);
            paint_response(painter, curve);
            paint_readings(painter);
        }
    }
    void mousePressEvent(QMouseEvent* event) override { pull(event->position().x()); }
    void mouseMoveEvent(QMouseEvent* event) override {
        if (event->buttons() & Qt::LeftButton) {
            pull(event->position().x());
        }
    }

private:
    double x_of(double hz) const { return area().left() + share_of(hz) * area().width(); }
    double y_of(double db) const {
        return area().top() + std::clamp((top_db_ - db) / range_db, 0.0, 1.0) * area().height();
    }
    // The calculated level in dB, at every other pixel of the axis.
    std::vector<QPointF> response() const {
        std::vector<QPointF> curve;
        const double end = session_.axis().end_hz(), wide = area().width();
        const auto analysis = session_.analysis();
        for (double x = 0; x <= wide; x += 2) {
            const double hz = tone_low_hz * std::pow(end / tone_low_hz, std::min(x / wide, 0.9999));
            curve.emplace_back(area().left() + x,
                               analysis->chain.response_at(hz, session_.axis()).magnitude_db);
        }
        return curve;
    }
    void paint_axes(QPainter& painter, const std::vector<QPointF>& curve) {
        constexpr double step = 12;
        double highest = -HUGE_VAL;
        for (const QPointF& point : curve) {
            highest = std::isfinite(point.y()) ? std::max(highest, point.y()) : highest;
        }
        // A chain that lets nothing through has no level to begin at.
        top_db_ = std::isfinite(highest) ? std::ceil(highest / step) * step : 0;
        std::vector<ScaleMark> marks;
        for (double db = top_db_; db >= top_db_ - range_db; db -= step) {
            marks.push_back({y_of(db), shown_number(db, 3)});
        }
        paint_scale(painter, area(), marks);
        paint_frequencies(
            painter, area(), tone_low_hz, session_.axis().sample_rate_hz,
            [this](double hz) { return x_of(hz); }, AcrossLines::none);
    }
    void paint_response(QPainter& painter, const std::vector<QPointF>& curve) const {
        QPolygonF line;
        for (const QPointF& point : curve) {
            if (!std::isnan(point.y())) {
                line << QPointF(point.x(), y_of(point.y()));
            }
        }
        painter.setPen(QPen(theme().ink, 1));
        draw_thin_line(painter, line);
    }
    void paint_readings(QPainter& painter) const {
        painter.setPen(QPen(theme().copper, 1));
        painter.setBrush(Qt::NoBrush);
        QPolygonF line;
        for (const auto& [hz, reading] : session_.tone().collected()) {
            if (!std::isfinite(reading.measured_db)) {
                continue; // of silence there is nothing to draw
            }
            const QPointF at(x_of(hz), y_of(reading.measured_db));
            line << at;
            painter.drawEllipse(at, 2.5, 2.5);
        }
        draw_thin_line(painter, line);
        if (const auto& now = session_.tone().now()) {
            painter.drawLine(QPointF(x_of(now->hz), area().top()),
                             QPointF(x_of(now->hz), area().bottom()));
        }
    }
    void pull(double x) {
        const double share = std::clamp((x - area().left()) / area().width(), 0.0, 0.999);
        if (!session_.tone().is_on()) {
            session_.tone().switch_on(true);
        }
        session_.plumb().set(tone_low_hz * std::pow(session_.axis().end_hz() / tone_low_hz, share));
        session_.plumb().pin(true);
    }
    static constexpr double range_db = 48;
    Session& session_;
    double top_db_ = 0;
};

TonePage::TonePage(Session& session, Listening& listening, QWidget* parent)
    : QWidget(parent), session_(session), listening_(listening),
      on_(new QCheckBox(tr("a tone at the plumb line"))),
      frequency_(new QuantityEdit(Dimension::frequency, tr("Hz"))),
      sweep_(flat_button(tr("Sweep"), tr("Measure all along the axis"))),
      forget_(flat_button(tr("Forget"), tr("Forget what was measured"))), reading_(new QLabel),
      plot_(new Plot(session)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 6, 0, 4);
    column->setSpacing(2);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(16, 0, 16, 0);
    on_->setToolTip(
        tr("In place of the signal, when it plays; pull it along here, or the plumb line "
           "along the lanes"));
    head->addWidget(on_);
    constexpr int field_width = 90;
    frequency_->setFixedWidth(field_width);
    frequency_->setAccessibleName(tr("Frequency of the tone"));
    head->addWidget(frequency_);
    head->addWidget(sweep_);
    head->addWidget(forget_);
    head->addStretch(1);
    column->addLayout(head);
    reading_->setContentsMargins(16, 0, 16, 0);
    reading_->setWordWrap(true);
    column->addWidget(reading_);
    column->addWidget(plot_, 1);
    connect(on_, &QCheckBox::clicked, this, [this](bool on) { session_.tone().switch_on(on); });
    connect(frequency_, &QuantityEdit::value_entered, this, [this](std::optional<double> hz) {
        if (hz && *hz > 0) {
            session_.plumb().set(*hz);
            session_.plumb().pin(true);
            if (!session_.tone().is_on()) {
                session_.tone().switch_on(true);
            }
        }
    });
    connect(frequency_, &QuantityEdit::problem_found, reading_, &QLabel::setText);
    connect(sweep_, &QToolButton::clicked, this,
            [this] { session_.tone().sweep(tones_of_a_sweep); });
    connect(forget_, &QToolButton::clicked, &session_.tone(), &ToneMeter::forget);
    connect(&session_.tone(), &ToneMeter::changed, this, &TonePage::refresh);
    connect(&session_, &Session::analysis_changed, plot_, qOverload<>(&QWidget::update));
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] { plot_->update(); });
    refresh();
}

QString TonePage::reading() const {
    return reading_->text();
}

void TonePage::refresh() {
    const ToneMeter& tone = session_.tone();
    on_->setChecked(tone.is_on());
    frequency_->set_sample_rate(session_.study().sample_rate_hz);
    frequency_->show_value(session_.plumb().hz());
    double worst = 0;
    for (const auto& [hz, reading] : tone.collected()) {
        if (std::isfinite(reading.calculated_db) && std::isfinite(reading.measured_db)) {
            worst = std::max(worst, std::abs(reading.measured_db - reading.calculated_db));
        }
    }
    QString text;
    if (!tone.problem().isEmpty()) {
        text = QStringLiteral("◇ ") + tone.problem();
    } else if (const auto now = tone.now()) {
        text = tr("%1: measured %2 dB, calculated %3 dB · %4 measured, %5 dB apart at most")
                   .arg(shown_words(frequency_text(now->hz, 4)), fixed_number(now->measured_db, 3),
                        fixed_number(now->calculated_db, 3))
                   .arg(tone.collected().size())
                   .arg(shown_number(worst, 1));
    } else {
        text = tr("Pull a tone along to measure what the running chain makes of it.");
    }
    reading_->setText(text);
    listening_.play_tone(tone.is_on() ? session_.plumb().hz() : std::nullopt);
    plot_->update();
}

} // namespace syntonon
