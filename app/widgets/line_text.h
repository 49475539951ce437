// Lines of text that are painted again and again: drawn and measured without being shaped anew.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QFont>
#include <QPainter>
#include <QString>

namespace syntonon {

// In points. Digits and signs are set one by one, so that numbers need no room of their own in what
// is kept; the interface's type does not kern them.
double line_width(const QFont& font, const QString& text);

// Where QPainter::drawText would draw it, in the painter's font and pen.
void draw_line(QPainter& painter, const QRectF& room, Qt::Alignment where, const QString& text);

// Cut short at its end where it is wider.
QString elided_line(const QFont& font, const QString& text, double width);

} // namespace syntonon
