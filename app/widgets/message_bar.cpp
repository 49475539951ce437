// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/message_bar.h"

#include "app/widgets/theme.h"
#include "core/base/log.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>

namespace syntonon {

MessageBar::MessageBar(QWidget* parent)
    : QWidget(parent), label_(new QLabel(this)), buttons_(new QHBoxLayout) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(34, 4, 12, 4);
    label_->setWordWrap(true);
    label_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    label_->setObjectName("message");
    row->addWidget(label_, 1);
    row->addLayout(buttons_);
    hide();
}

void MessageBar::clear_buttons() {
    while (QLayoutItem* item = buttons_->takeAt(0)) {
        item->widget()->deleteLater();
        delete item;
    }
}

void MessageBar::show_message(MessageKind kind, const QString& text,
                              const std::vector<Choice>& choices) {
    clear_buttons();
    kind_ = kind;
    label_->setText(text);
    label_->setAccessibleName(text);
    const auto add = [&](const QString& name, std::function<void()> action) {
        auto* button = new QPushButton(name, this);
        buttons_->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, action = std::move(action)] {
            hide();
            if (action) {
                action();
            }
        });
    };
    for (const auto& [name, action] : choices) {
        add(name, action);
    }
    if (choices.empty()) {
        add(tr("Close"), {});
    }
    log_line(kind == MessageKind::problem ? LogLevel::warning : LogLevel::info, text.toStdString());
    show();
    update();
}

QString MessageBar::text() const {
    return isVisible() ? label_->text() : QString();
}

void MessageBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    painter.fillRect(rect(), t.raised);
    painter.setPen(t.hairline);
    painter.drawLine(0, height() - 1, width(), height() - 1);
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF at(18, height() / 2.0);
    painter.setPen(QPen(kind_ == MessageKind::problem ? t.not_met : t.met, 1.5));
    if (kind_ == MessageKind::problem) { // shape as well as colour
        painter.drawPolygon(QPolygonF(
            {at + QPointF(0, -6), at + QPointF(6, 0), at + QPointF(0, 6), at + QPointF(-6, 0)}));
    } else {
        painter.setBrush(t.met);
        painter.drawEllipse(at, 4, 4);
    }
}

} // namespace syntonon
