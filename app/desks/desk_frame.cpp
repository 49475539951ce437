// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/desk_frame.h"

#include "app/panes/companion.h"
#include "app/widgets/page_stack.h"

#include <QJsonArray>
#include <QSplitter>
#include <algorithm>
#include <numeric>

namespace syntonon {
namespace {

constexpr int least_pixels = 60, most_pixels = 10'000;

QJsonArray to_json(const QList<int>& sizes) {
    QJsonArray array;
    for (const int size : sizes) {
        array.append(size);
    }
    return array;
}

// As many as wanted, each of a size that can be worked with; else nothing.
std::optional<QList<int>> sizes_from_json(const QJsonValue& json, qsizetype count) {
    QList<int> sizes;
    for (const auto& size : json.toArray()) {
        sizes.append(size.toInt());
    }
    const bool fits = sizes.size() == count && std::ranges::all_of(sizes, [](int size) {
                          return size >= least_pixels && size <= most_pixels;
                      });
    return fits ? std::optional(sizes) : std::nullopt;
}

// The left column keeps its width; middle and companions share what is gained or lost.
QList<int> scaled_to(const QList<int>& columns, int width) {
    const double was = columns[1] + columns[2], is = std::max(2, width - columns[0]);
    const int middle = static_cast<int>(columns[1] * is / was);
    return {columns[0], middle, static_cast<int>(is) - middle};
}

} // namespace

DeskFrame::DeskFrame(QWidget* parent)
    : QWidget(parent), frame_(new QSplitter(Qt::Horizontal, this)), left_(new PageStack),
      work_(new PageStack) {
    frame_->setHandleWidth(1);
    frame_->setChildrenCollapsible(false);
    for (PageStack* stack : {left_, work_}) {
        frame_->addWidget(stack);
    }
    left_->setMinimumWidth(140);
}

void DeskFrame::add_desk(Desk desk, std::function<DeskParts()> make) {
    desks_[index(desk)].make = std::move(make);
}

void DeskFrame::build(Place& place) {
    place.parts = place.make();
    const DeskParts& parts = *place.parts;
    place.columns = parts.columns;
    place.work = new QSplitter(Qt::Horizontal);
    place.work->setHandleWidth(1);
    place.work->setChildrenCollapsible(false);
    place.companions = new QSplitter(Qt::Vertical);
    place.companions->setHandleWidth(1);
    place.companions->setChildrenCollapsible(false);
    place.companions->addWidget(parts.upper);
    place.companions->addWidget(parts.lower);
    place.companions->setStretchFactor(0, 2);
    place.companions->setStretchFactor(1, 1);
    place.companions->setSizes(parts.rows);
    place.work->addWidget(parts.middle);
    place.work->addWidget(place.companions);
    parts.middle->setMinimumWidth(360);
    place.companions->setMinimumWidth(300);
    if (left_->indexOf(parts.left) < 0) {
        left_->addWidget(parts.left);
    }
    work_->addWidget(place.work);
    use_remembered(place);
}

void DeskFrame::use_remembered(Place& place) {
    const QJsonObject& remembered = place.remembered;
    place.columns = sizes_from_json(remembered["columns"], 3).value_or(place.columns);
    if (const auto rows = sizes_from_json(remembered["rows"], 2)) {
        place.companions->setSizes(*rows);
    }
    place.parts->upper->show_page_if_there(remembered["upper_page"].toInt(-1));
    place.parts->lower->show_page_if_there(remembered["lower_page"].toInt(-1));
}

QList<int> DeskFrame::columns() const {
    const QSplitter* work = desks_[index(shown_)].work;
    return QList<int>{frame_->sizes().value(0)} + work->sizes();
}

void DeskFrame::set_columns(const QList<int>& columns) {
    frame_->setSizes({columns[0], columns[1] + columns[2]});
    desks_[index(shown_)].work->setSizes({columns[1], columns[2]});
}

void DeskFrame::keep_sizes() {
    if (is_shown_ && isVisible()) {
        desks_[index(shown_)].columns = columns();
    }
}

void DeskFrame::apply_sizes() {
    constexpr int handles = 2;
    if (!is_shown_) {
        return;
    }
    const QList<int> wanted = scaled_to(desks_[index(shown_)].columns, width() - handles);
    if (wanted != columns()) {
        set_columns(wanted);
    }
}

void DeskFrame::make_desk(Desk desk) {
    if (Place& place = desks_[index(desk)]; !place.parts) {
        build(place);
        for (QWidget* widget : place.work->findChildren<QWidget*>()) {
            widget->ensurePolished();
        }
        place.work->resize(work_->size());
    }
}

void DeskFrame::show_desk(Desk desk) {
    keep_sizes();
    make_desk(desk);
    Place& place = desks_[index(desk)];
    shown_ = desk;
    is_shown_ = true;
    left_->setCurrentWidget(place.parts->left);
    work_->setCurrentWidget(place.work);
    apply_sizes();
    emit desk_shown(desk);
}

void DeskFrame::resizeEvent(QResizeEvent* event) {
    // Without a layout, which would let the splitter share the change out by its own rule.
    keep_sizes();
    QWidget::resizeEvent(event);
    frame_->setGeometry(rect());
    apply_sizes();
}

QSize DeskFrame::minimumSizeHint() const {
    if (!is_shown_) {
        return {};
    }
    const QSize work = desks_[index(shown_)].work->minimumSizeHint();
    return {left_->minimumWidth() + 1 + work.width(),
            std::max(work.height(), left_->currentWidget()->minimumSizeHint().height())};
}

QJsonObject DeskFrame::arrangement() const {
    QJsonObject all;
    for (const Desk desk : all_desks) {
        const Place& place = desks_[index(desk)];
        if (!place.parts) {
            if (!place.remembered.isEmpty()) {
                all[key_of(desk)] = place.remembered;
            }
            continue;
        }
        const bool visible = desk == shown_ && isVisible();
        QJsonObject one;
        one["columns"] = to_json(visible ? columns() : place.columns);
        one["rows"] = to_json(place.companions->sizes());
        one["upper_page"] = place.parts->upper->shown_page();
        one["lower_page"] = place.parts->lower->shown_page();
        all[key_of(desk)] = one;
    }
    all["shown"] = key_of(shown_);
    return all;
}

void DeskFrame::arrange(const QJsonObject& arrangement) {
    for (const Desk desk : all_desks) {
        Place& place = desks_[index(desk)];
        place.remembered = arrangement[key_of(desk)].toObject();
        if (place.parts) {
            use_remembered(place);
        }
    }
    is_shown_ = false; // what stands in the splitter now is nobody's size
    show_desk(desk_from_key(arrangement["shown"].toString()).value_or(shown_));
}

} // namespace syntonon
