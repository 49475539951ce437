// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/channel_list.h"

#include "app/widgets/colour_icon.h"
#include "app/widgets/theme.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace syntonon {
namespace {

struct Count {
    std::ptrdiff_t not_met = 0, undecided = 0, met = 0;
};

Count count_of(const Verdict& verdict) {
    const auto count = [&](Outcome outcome) {
        return std::ranges::count(verdict, outcome, &Finding::outcome);
    };
    return {count(Outcome::not_met), count(Outcome::undecided), count(Outcome::met)};
}

// The marks of the verdict bar: a filled disc, an open lozenge, a dotted one; none without a goal.
QString mark_of(const Count& count) {
    return count.not_met > 0     ? QStringLiteral("◇")
           : count.undecided > 0 ? QStringLiteral("◌")
           : count.met > 0       ? QStringLiteral("●")
                                 : QStringLiteral(" ");
}

QString words_of(const Count& count) {
    return count.not_met > 0     ? QObject::tr("%1 not met").arg(count.not_met)
           : count.undecided > 0 ? QObject::tr("%1 undecided").arg(count.undecided)
           : count.met > 0       ? QObject::tr("met")
                                 : QObject::tr("nothing required");
}

} // namespace

ChannelList::ChannelList(Session& session, QWidget* parent)
    : QFrame(parent, Qt::Popup), session_(session), filter_(new QLineEdit), list_(new QListWidget) {
    setAttribute(Qt::WA_DeleteOnClose);
    setObjectName("channel_list");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 8, 8, 8);
    filter_->setPlaceholderText(tr("Type to find a channel"));
    filter_->setAccessibleName(tr("Find a channel"));
    list_->setAccessibleName(tr("Channels"));
    list_->setFrameShape(QFrame::NoFrame);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setTextElideMode(Qt::ElideMiddle);
    column->addWidget(filter_);
    column->addWidget(list_);
    resize(320, 420);
    filter_->installEventFilter(this);
    connect(filter_, &QLineEdit::textChanged, this, &ChannelList::apply_filter);
    connect(list_, &QListWidget::itemClicked, this, &ChannelList::take);
    connect(list_, &QListWidget::itemActivated, this, &ChannelList::take);
    fill();
    setFocusProxy(filter_);
    filter_->setFocus();
}

void ChannelList::fill() {
    int index = 0;
    for (const auto& channel : session_.study().channels) {
        const Count count = count_of(session_.analysis_of(*channel)->verdict);
        const QString name = QString::fromStdString(channel->name);
        auto* item = new QListWidgetItem(
            colour_icon(channel_colour(QString::fromStdString(channel->colour), index),
                        Patch::square),
            QStringLiteral("%1  %2").arg(mark_of(count), name));
        item->setToolTip(QStringLiteral("%1: %2").arg(name, words_of(count)));
        item->setData(Qt::UserRole, index);
        item->setData(Qt::AccessibleTextRole, item->toolTip());
        if (count.not_met > 0) {
            item->setForeground(theme().not_met);
        }
        list_->addItem(item);
        ++index;
    }
    list_->setCurrentRow(session_.selection().channel);
}

void ChannelList::apply_filter() {
    QListWidgetItem* first = nullptr;
    for (int i = 0; i < list_->count(); ++i) {
        QListWidgetItem* item = list_->item(i);
        const bool matches = item->text().contains(filter_->text().trimmed(), Qt::CaseInsensitive);
        item->setHidden(!matches);
        first = first == nullptr && matches ? item : first;
    }
    list_->setCurrentItem(first);
}

void ChannelList::take(const QListWidgetItem* item) {
    if (item != nullptr && !item->isHidden()) {
        session_.select_channel(item->data(Qt::UserRole).toInt());
        close();
    }
}

bool ChannelList::eventFilter(QObject* watched, QEvent* event) {
    if (watched == filter_ && event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
            take(list_->currentItem());
            return true;
        }
        if (key->key() == Qt::Key_Down || key->key() == Qt::Key_Up) {
            const int step = key->key() == Qt::Key_Down ? 1 : -1;
            for (int row = list_->currentRow() + step; row >= 0 && row < list_->count();
                 row += step) {
                if (!list_->item(row)->isHidden()) {
                    list_->setCurrentRow(row);
                    break;
                }
            }
            return true;
        }
    }
    return QFrame::eventFilter(watched, event);
}

} // namespace syntonon
