// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/field.h"

#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr int caption_height = 18, line_height = 28;
constexpr int pixels_a_step = 4;
constexpr double fine_step = 0.1;

} // namespace

Field::Field(Format format, QWidget* parent)
    : QWidget(parent), format_(std::move(format)), edit_(new QLineEdit(this)),
      problem_label_(new QLabel(this)) {
    problem_label_->hide();
    edit_->setFrame(false);
    edit_->installEventFilter(this);
    edit_->setAccessibleName(format_.unit.isEmpty()
                                 ? format_.caption
                                 : QStringLiteral("%1 (%2)").arg(format_.caption, format_.unit));
    setFocusProxy(edit_);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    connect(edit_, &QLineEdit::editingFinished, this, &Field::take_typed);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, &Field::restyle);
    restyle();
    show_value(0);
}

void Field::restyle() {
    edit_->setFont(text_font(17));
    QPalette colours = edit_->palette();
    colours.setColor(QPalette::Base, Qt::transparent);
    colours.setColor(QPalette::Text, derived_ ? theme().soft : theme().text);
    edit_->setPalette(colours);
    QPalette problem = palette();
    problem.setColor(QPalette::WindowText, theme().not_met);
    problem_label_->setPalette(problem);
    problem_label_->setFont(text_font(11));
}

void Field::set_unit(const QString& unit, const char* suffix, double canonical, int places) {
    if (format_.unit == unit && canonical_per_unit_ == canonical) {
        return;
    }
    format_.unit = unit;
    format_.places = places;
    suffix_ = canonical == 1 ? QString() : QString::fromUtf8(suffix);
    canonical_per_unit_ = canonical;
    edit_->setAccessibleName(QStringLiteral("%1 (%2)").arg(format_.caption, format_.unit));
    if (!edit_->isModified()) {
        edit_->setText(text_of(value_));
    }
    resizeEvent(nullptr);
    update();
}

Expected<double> Field::parsed(const QString& text) const {
    if (!suffix_.isEmpty()) {
        auto in_unit =
            parse_quantity((text + " " + suffix_).toStdString(), format_.dimension, context_);
        if (in_unit) {
            return in_unit;
        }
    }
    return parse_quantity(text.toStdString(), format_.dimension, context_);
}

QString Field::text_of(double canonical) const {
    const double value = canonical / canonical_per_unit_;
    if (std::isinf(value)) {
        return value < 0 ? QStringLiteral("−∞") : QStringLiteral("∞");
    }
    const auto with_places = [&](int places) {
        return QString::fromStdString(format_.signed_number
                                          ? signed_text(value, places)
                                          : fmt::format("{:.{}f}", value, places));
    };
    constexpr int line_edit_margins = 4;
    const int room = edit_->width() - line_edit_margins;
    int places = format_.places;
    QString text = with_places(places);
    while (places > 0 && text.endsWith('0')
           && edit_->fontMetrics().horizontalAdvance(text) > room) {
        text = with_places(--places);
    }
    return text;
}

void Field::show_value(double value, bool derived) {
    value_ = value;
    context_.current = value;
    show_tip();
    if (derived != derived_) {
        derived_ = derived;
        restyle();
    }
    if (!edit_->hasFocus() || !edit_->isModified()) {
        const QString text = text_of(value);
        if (edit_->text() != text) {
            const int place = edit_->cursorPosition();
            edit_->setText(text);
            edit_->setCursorPosition(std::min<int>(place, static_cast<int>(text.size())));
        }
    }
}

void Field::show_problem(const QString& text) {
    if (problem_ == text) {
        return;
    }
    problem_ = text;
    show_tip();
    edit_->setAccessibleDescription(text);
    problem_label_->setText(text.isEmpty() ? QString() : QStringLiteral("◇ ") + text);
    place_problem();
    update();
}

// What is wrong; else of a frequency what it is in the units that are relative to something, and to
// what.
void Field::show_tip() {
    if (!problem_.isEmpty() || format_.dimension != Dimension::frequency
        || !(context_.sample_rate_hz > 0)) {
        setToolTip(problem_);
        return;
    }
    const auto digits = [](double value) { return shown_number(value, 6); };
    const double share = value_ / context_.sample_rate_hz;
    setToolTip(tr("%1 × sample rate (type %1 fs) · %2 × half of it (%2 nyquist) · %3 rad/sample")
                   .arg(digits(share), digits(2 * share),
                        digits(rad_per_sample_from_hz(value_, context_.sample_rate_hz))));
}

// As wide as the text needs, so it stands in the parent, above the empty room under other fields.
void Field::place_problem() {
    if (parentWidget() != nullptr && problem_label_->parentWidget() == this) {
        problem_label_->setParent(parentWidget());
    }
    problem_label_->setVisible(!problem_.isEmpty() && isVisibleTo(parentWidget()));
    if (problem_.isEmpty()) {
        return;
    }
    const QSize wanted = problem_label_->sizeHint();
    const QWidget* room = problem_label_->parentWidget();
    const int left = room == this ? 0 : std::max(0, std::min(x(), room->width() - wanted.width()));
    problem_label_->setGeometry(left, (room == this ? 0 : y()) + caption_height + line_height + 1,
                                wanted.width(), 16);
    problem_label_->raise();
}

void Field::moveEvent(QMoveEvent*) {
    place_problem();
}

void Field::hideEvent(QHideEvent*) {
    problem_label_->hide();
}

void Field::take_typed() {
    if (!edit_->isModified()) {
        return;
    }
    const auto value = parsed(edit_->text());
    if (!value) {
        // What was typed stays, so that a slip can be mended instead of typed again.
        show_problem(QString::fromStdString(to_text(value.error())));
        return;
    }
    edit_->setModified(false);
    show_problem({});
    emit value_entered(*value, false);
    edit_->setText(text_of(value_));
}

void Field::step_by(double steps) {
    if (!format_.step || !std::isfinite(value_)) {
        return;
    }
    edit_->setModified(false);
    emit value_entered(format_.step(value_, steps), true);
}

bool Field::eventFilter(QObject* watched, QEvent* event) {
    if (watched == edit_
        && (event->type() == QEvent::FocusIn || event->type() == QEvent::FocusOut)) {
        update();
        if (event->type() == QEvent::FocusOut && edit_->isModified() && !problem_.isEmpty()) {
            edit_->setModified(false);
            edit_->setText(text_of(value_));
            show_problem({});
        }
    }
    if (watched == edit_ && event->type() == QEvent::ShortcutOverride && !edit_->isModified()) {
        // A line edit claims undo and redo for its own typing; with nothing typed they are the
        // study's.
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo)) {
            event->ignore();
            return true;
        }
    }
    if (watched == edit_ && event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const double amount = key->modifiers().testFlag(Qt::ShiftModifier) ? fine_step : 1;
        if (key->key() == Qt::Key_Up || key->key() == Qt::Key_Down) {
            step_by(key->key() == Qt::Key_Up ? amount : -amount);
            emit gesture_ended();
            return true;
        }
        if (key->key() == Qt::Key_Escape && edit_->isModified()) {
            edit_->setModified(false);
            edit_->setText(text_of(value_));
            show_problem({});
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void Field::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && format_.step) {
        scrubbing_ = true;
        scrub_x_ = event->pos().x();
    }
}

void Field::mouseMoveEvent(QMouseEvent* event) {
    setCursor(format_.step ? Qt::SizeHorCursor : Qt::ArrowCursor);
    if (!scrubbing_) {
        return;
    }
    const int steps = (event->pos().x() - scrub_x_) / pixels_a_step;
    if (steps != 0) {
        scrub_x_ += steps * pixels_a_step;
        step_by(steps * (event->modifiers().testFlag(Qt::ShiftModifier) ? fine_step : 1));
    }
}

void Field::mouseReleaseEvent(QMouseEvent*) {
    if (scrubbing_) {
        scrubbing_ = false;
        emit gesture_ended();
    }
}

void Field::resizeEvent(QResizeEvent*) {
    const int unit_width = format_.unit.isEmpty()
                               ? 0
                               : QFontMetrics(text_font(11)).horizontalAdvance(format_.unit) + 6;
    edit_->setGeometry(-2, caption_height, width() - unit_width, line_height - 2);
    if (!edit_->isModified()) {
        edit_->setText(text_of(value_)); // so many zeros as there is room for
    }
    setMouseTracking(true);
    place_problem();
}

void Field::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    painter.setFont(text_font(11));
    painter.setPen(t.soft);
    painter.drawText(QRect(0, 0, width(), caption_height - 2), Qt::AlignLeft | Qt::AlignVCenter,
                     format_.caption);
    painter.drawText(QRect(0, caption_height, width(), line_height - 4),
                     Qt::AlignRight | Qt::AlignVCenter, format_.unit);
    const bool wrong = !problem_.isEmpty();
    painter.setPen(QPen(wrong               ? t.not_met
                        : edit_->hasFocus() ? t.copper
                                            : t.soft,
                        edit_->hasFocus() || wrong ? 2 : 1));
    painter.drawLine(0, caption_height + line_height - 1, width(),
                     caption_height + line_height - 1);
}

double step_by_ratio(double value, double steps) {
    return value * std::exp2(steps / 24);
}

double step_by_tenth(double value, double steps) {
    // Onto the tenth, not merely by one, unless stepping finely.
    const double next = value + 0.1 * steps;
    return std::abs(steps) >= 1 ? std::round(next * 10) / 10 : std::round(next * 100) / 100;
}

} // namespace syntonon
