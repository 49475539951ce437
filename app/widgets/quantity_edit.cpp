// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/quantity_edit.h"

#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"

#include <QKeyEvent>
#include <cmath>

namespace syntonon {

QuantityEdit::QuantityEdit(Dimension dimension, const QString& unit, const QString& empty_text,
                           QWidget* parent)
    : QLineEdit(parent), dimension_(dimension), unit_(unit), empty_text_(empty_text) {
    setAlignment(Qt::AlignRight);
    setMinimumWidth(72);
    connect(this, &QLineEdit::editingFinished, this, &QuantityEdit::take);
}

QString QuantityEdit::text_of(std::optional<double> value) const {
    if (!value) {
        return empty_text_;
    }
    const double parts = 1 / *value;
    const bool is_part = unit_ == QStringLiteral("oct") && *value > 0 && *value < 1
                         && std::abs(parts - std::round(parts)) < 1e-9;
    const QString number =
        is_part ? QStringLiteral("1/%1").arg(std::lround(parts)) : shown_number(*value / scale_, 6);
    return unit_.isEmpty() ? number : number + " " + unit_;
}

void QuantityEdit::show_value(std::optional<double> value) {
    value_ = value;
    if (!(hasFocus() && isModified()) && !wrong_) {
        setText(text_of(value));
        setModified(false);
    }
}

void QuantityEdit::focusInEvent(QFocusEvent* event) {
    QLineEdit::focusInEvent(event);
    if (event->reason() != Qt::MouseFocusReason) {
        selectAll();
    }
}

void QuantityEdit::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && isModified()) {
        mark(false);
        setText(text_of(value_));
        setModified(false);
        return;
    }
    QLineEdit::keyPressEvent(event);
}

void QuantityEdit::mark(bool wrong) {
    wrong_ = wrong;
    QPalette colours = parentWidget() != nullptr ? parentWidget()->palette() : palette();
    if (wrong) {
        colours.setColor(QPalette::Text, theme().not_met);
    }
    setPalette(colours);
}

void QuantityEdit::take() {
    if (!isModified()) {
        return;
    }
    const QString typed = text().trimmed();
    setModified(false);
    if (!empty_text_.isEmpty() && (typed.isEmpty() || typed == empty_text_)) {
        mark(false);
        value_.reset();
        setText(empty_text_);
        emit value_entered(std::nullopt);
        return;
    }
    context_.current = value_.value_or(0);
    // A unit that this line shows but no quantity knows (%) is not typed text.
    QString bare = typed;
    if (dimension_ == Dimension::plain && !unit_.isEmpty() && bare.endsWith(unit_)) {
        bare.chop(unit_.size());
    } else if (dimension_ == Dimension::angle && bare.endsWith(QChar(0xB0))) {
        bare.chop(1);
    }
    bare.replace(QChar(0x2212), '-');
    const bool is_bare = !bare.isEmpty() && bare.back().isDigit()
                         && (bare.front().isDigit() || bare.front() == '-' || bare.front() == '.');
    if (scale_ != 1 && is_bare) {
        bare += " " + unit_;
    }
    const auto value = parse_quantity(bare.toStdString(), dimension_, context_);
    mark(!value);
    if (!value) {
        emit problem_found(QString::fromStdString(to_text(value.error())));
        return;
    }
    value_ = *value;
    setText(text_of(value_));
    setModified(false);
    emit value_entered(value_);
}

} // namespace syntonon
