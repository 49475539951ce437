// A spectrogram in the theme's colours.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/signal/spectrogram.h"

#include <QImage>
#include <QPainter>

namespace syntonon {

// A pixel a cell, from `top_db` down to 80 dB below.
QImage picture_of(const Spectrogram& made, float top_db);

// Into the area, with numbers for the frequencies in so many pixels at its left.
void paint_spectrogram(QPainter& painter, const QRectF& area, double left, const Spectrogram& made,
                       float top_db);

} // namespace syntonon
