// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/impulse_picture.h"

#include "app/model/measured_in_view.h"
#include "app/widgets/theme.h"

#include <QPainter>

namespace syntonon {

ImpulsePicture::ImpulsePicture(Session& session, const QString& name, QWidget* parent)
    : QWidget(parent), session_(session) {
    setAccessibleName(name);
    setMinimumSize(160, 100);
    connect(&session_, &Session::study_changed, this, &ImpulsePicture::refresh);
    connect(&session_, &Session::selection_changed, this, &ImpulsePicture::refresh);
    connect(&session_.curve_in_hand(), &CurveInHand::changed, this, &ImpulsePicture::refresh);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] { update(); });
}

void ImpulsePicture::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void ImpulsePicture::refresh() {
    if (!isVisible()) {
        return;
    }
    const auto measured = impulse_of(measured_in_view(session_));
    const bool same =
        measured.has_value() == made_of_.has_value() && (!measured || measured->same_as(*made_of_));
    if (same) {
        return;
    }
    made_of_ = measured;
    if (measured) {
        work_out(*measured);
    }
    update();
}

QRectF ImpulsePicture::area() const {
    return QRectF(rect()).adjusted(page_left, page_top, -page_right, -page_bottom);
}

bool ImpulsePicture::begin_painting(QPainter& painter, bool is_made) const {
    painter.fillRect(rect(), theme().panel);
    painter.setFont(text_font(11));
    if (made_of_ && is_made) {
        return true;
    }
    painter.setPen(theme().soft);
    painter.drawText(rect().adjusted(16, 0, -16, 0), Qt::AlignCenter | Qt::TextWordWrap,
                     made_of_ ? tr("being worked out")
                              : tr("No impulse response: import one, or measure with a sweep"));
    return false;
}

} // namespace syntonon
