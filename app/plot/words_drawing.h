// A channel as designed and as its words, drawn.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/words_work.h"
#include "app/widgets/theme.h"

#include <QPainter>
#include <QRectF>

namespace syntonon {

// Levels above, by how much the words differ below.
void paint_words(QPainter& painter, const QRectF& room, const WordsPicture& picture,
                 const Theme& theme);

} // namespace syntonon
