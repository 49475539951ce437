// Colours and type of the window: paper (day) and night.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QColor>
#include <QFont>
#include <QObject>
#include <QString>

class QApplication;

namespace syntonon {

enum class ThemeName { paper, night };

// Roles, not places: the same role means the same thing in every pane.
struct Theme {
    ThemeName name;
    QColor ground; // around panels
    QColor panel;  // what is drawn on
    QColor raised; // a panel that asks for input
    QColor hairline, grid;
    QColor text, soft; // soft: captions and units
    QColor copper;     // what you hold: selected stage, grips
    QColor ink;        // the predicted curve
    QColor corridor, corridor_edge;
    QColor plum; // takes
    QColor measured;
    QColor met, not_met;
};

const Theme& theme();
const Theme& theme_of(ThemeName name);

// Applies colours and type to the whole application; widgets repaint by themselves.
void use_theme(QApplication& application, ThemeName name);

// Tells widgets that keep colours of their own (palettes, pens of curves) to take them anew. Sent
// after the whole application has changed; Qt's own style events come while it is still changing.
class ThemeNotifier : public QObject {
    Q_OBJECT

signals:
    void changed();
};
ThemeNotifier& theme_notifier();

// The interface's type at a size in pixels.
QFont text_font(int pixels, QFont::Weight weight = QFont::Normal);

// The colour of a channel that has none of its own.
QColor channel_colour(const QString& own, int index, ThemeName of = theme().name);
QStringList channel_colour_names(); // of those, in their order

} // namespace syntonon
