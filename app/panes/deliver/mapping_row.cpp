// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/mapping_row.h"

#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/device/oca/setting_text.h"

#include <QPainter>
#include <algorithm>

namespace syntonon {
namespace {

constexpr int box_height = 26, box_inset = 9;
constexpr double box_share = 0.41; // of the width, each

QString kind_word(oca::Kind kind) {
    switch (kind) {
    case oca::Kind::parametric_filter:
        return QObject::tr("parametric");
    case oca::Kind::classical_filter:
        return QObject::tr("classical");
    case oca::Kind::polynomial_filter:
        return QObject::tr("polynomial");
    case oca::Kind::fir_filter:
        return QObject::tr("taps");
    case oca::Kind::curve_filter:
        return QObject::tr("approximate");
    default:
        return {}; // gains and delays say it by their roles
    }
}

// "Section 1", "Section 4": "Section 1 … 4".
QString from_to(const QString& first, const QString& last) {
    const qsizetype space = first.lastIndexOf(' ') + 1;
    const bool are_alike = space > 0 && last.startsWith(first.left(space));
    return QStringLiteral("%1 … %2").arg(first, are_alike ? last.mid(space) : last);
}

QString named(const oca::DeviceObject& object) {
    const QString word = object.kind ? kind_word(*object.kind) : QString();
    return word.isEmpty() ? text_of(object.role)
                          : QStringLiteral("%1 %2").arg(text_of(object.role), word);
}

// Those of one kind that follow one another.
QString run_text(const std::vector<const oca::DeviceObject*>& run) {
    if (run.size() == 1) {
        return named(*run.front());
    }
    return QStringLiteral("%1 %2").arg(
        from_to(text_of(run.front()->role), text_of(run.back()->role)),
        kind_word(*run.front()->kind));
}

} // namespace

QString objects_text(const std::vector<std::string>& paths, const oca::DeviceTree& tree) {
    std::vector<std::vector<const oca::DeviceObject*>> runs;
    for (const std::string& path : paths) {
        const oca::DeviceObject* object = tree.at_path(path);
        if (object == nullptr || !object->kind) {
            continue;
        }
        if (runs.empty() || runs.back().back()->kind != object->kind) {
            runs.emplace_back();
        }
        runs.back().push_back(object);
    }
    QStringList texts;
    for (const auto& run : runs) {
        texts << run_text(run);
    }
    return texts.join(QStringLiteral(", "));
}

MappingRow::MappingRow(QWidget* parent) : QAbstractButton(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setCursor(Qt::PointingHandCursor);
}

void MappingRow::show_stage(const oca::MappedStage& stage, const QString& objects) {
    stage_ = stage.stage;
    title_ = text_of(stage.title);
    objects_ = objects;
    problem_ = stage.problem ? text_of(to_text(*stage.problem)) : QString();
    const QString where = problem_.isEmpty() ? objects_ : tr("fits nowhere: %1").arg(problem_);
    setAccessibleName(QStringLiteral("%1: %2").arg(title_, where));
    QStringList settings;
    for (const oca::Setting& setting : stage.settings) {
        settings << text_of(oca::text_of(setting));
    }
    constexpr qsizetype most = 12;
    if (settings.size() > most) {
        settings = settings.mid(0, most) << QStringLiteral("…");
    }
    setToolTip(
        problem_.isEmpty()
            ? tr("%1\n%2\nClick: choose other objects").arg(accessibleName(), settings.join('\n'))
            : accessibleName());
    update();
}

void MappingRow::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter painter(this);
    painter.setFont(text_font(11));
    const int box = static_cast<int>(width() * box_share);
    const int top = (height() - box_height) / 2, middle = height() / 2;
    const bool fits = problem_.isEmpty();
    const auto draw_box = [&](int left, const QString& text) {
        const QRect room(left, top, box - 1, box_height - 1);
        painter.setPen(QPen(fits ? t.hairline : t.not_met, 1, fits ? Qt::SolidLine : Qt::DashLine));
        painter.setBrush(underMouse() || isDown() ? t.raised : t.panel);
        painter.drawRect(room);
        painter.setPen(fits ? t.text : t.not_met);
        painter.drawText(
            room.adjusted(box_inset, 0, -box_inset, 0), Qt::AlignLeft | Qt::AlignVCenter,
            painter.fontMetrics().elidedText(text, Qt::ElideMiddle, room.width() - 2 * box_inset));
    };
    draw_box(0, title_);
    if (fits) {
        draw_box(width() - box, objects_);
        painter.setPen(QPen(t.ink, 1.3));
        painter.drawLine(box, middle, width() - box, middle);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        painter.setBrush(t.met);
        painter.drawEllipse(QPointF(width() / 2.0, middle + 0.5), 4, 4);
        painter.setRenderHint(QPainter::Antialiasing, false);
    } else {
        const QRect room(box + box_inset, 0, width() - box - box_inset, height());
        painter.drawText(room, Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(tr("fits nowhere: %1").arg(problem_),
                                                          Qt::ElideRight, room.width()));
    }
    if (hasFocus()) {
        painter.setPen(QPen(t.copper, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(0, 1, -1, -2));
    }
}

} // namespace syntonon
