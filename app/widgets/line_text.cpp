// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/line_text.h"

#include <QFontMetricsF>
#include <QHash>
#include <QStaticText>
#include <utility>

namespace syntonon {
namespace {

struct Piece {
    QStaticText text;
    double width;
};

struct Face {
    int pixels, weight;
    bool operator==(const Face&) const = default;
};
std::size_t qHash(const Face& face, std::size_t seed = 0) {
    return qHashMulti(seed, face.pixels, face.weight);
}

const Piece& piece(const QFont& font, const QString& text) {
    constexpr qsizetype most = 2000;
    static QHash<std::pair<Face, QString>, Piece> kept;
    const std::pair key(Face{font.pixelSize(), font.weight()}, text);
    if (const auto known = kept.constFind(key); known != kept.constEnd()) {
        return *known;
    }
    if (kept.size() > most) {
        kept.clear();
    }
    Piece made{QStaticText(text), QFontMetricsF(font).horizontalAdvance(text)};
    made.text.setTextFormat(Qt::PlainText);
    made.text.prepare({}, font);
    return *kept.insert(key, made);
}

bool is_of_number(QChar c) {
    return c.isDigit() || c == '.' || c == '+' || c == '-' || c == QChar(0x2212);
}

// Digits and signs by themselves, all else in runs.
template <class Use>
void for_pieces(const QFont& font, const QString& text, const Use& use) {
    for (qsizetype from = 0; from < text.size();) {
        qsizetype to = from + 1;
        while (!is_of_number(text[from]) && to < text.size() && !is_of_number(text[to])) {
            ++to;
        }
        use(piece(font, text.mid(from, to - from)));
        from = to;
    }
}

} // namespace

double line_width(const QFont& font, const QString& text) {
    double width = 0;
    for_pieces(font, text, [&](const Piece& piece) { width += piece.width; });
    return width;
}

void draw_line(QPainter& painter, const QRectF& room, Qt::Alignment where, const QString& text) {
    const QFont& font = painter.font();
    const double spare_x = room.width() - line_width(font, text),
                 spare_y = room.height() - QFontMetricsF(font).height();
    double x = room.left()
               + (where & Qt::AlignRight     ? spare_x
                  : where & Qt::AlignHCenter ? spare_x / 2
                                             : 0);
    const double y = room.top()
                     + (where & Qt::AlignBottom    ? spare_y
                        : where & Qt::AlignVCenter ? spare_y / 2
                                                   : 0);
    for_pieces(font, text, [&](const Piece& piece) {
        painter.drawStaticText(QPointF(x, y), piece.text);
        x += piece.width;
    });
}

QString elided_line(const QFont& font, const QString& text, double width) {
    return line_width(font, text) <= width
               ? text
               : QFontMetricsF(font).elidedText(text, Qt::ElideRight, width);
}

} // namespace syntonon
