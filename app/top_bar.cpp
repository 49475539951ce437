// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/top_bar.h"

#include "app/panes/channel_list.h"
#include "app/widgets/tab_strip.h"
#include "app/widgets/theme.h"

#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QMenuBar>
#include <QToolButton>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr int bar_height = 32, room_for_a_name = 1500;

QString rate_text(double hz) {
    return QString::fromStdString(fmt::format("{:g} kHz", hz / 1000));
}

QToolButton* flat_button(const QString& name) {
    auto* button = new QToolButton;
    button->setAutoRaise(true);
    button->setStyleSheet(
        "QToolButton { border: none; padding: 4px; } QToolButton::menu-indicator { width: 0; } "
        "QToolButton:focus { text-decoration: underline; }");
    button->setAccessibleName(name);
    button->setFocusPolicy(Qt::TabFocus);
    return button;
}

} // namespace

TopBar::TopBar(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), menus_(new QMenuBar),
      channels_(new TabStrip(TabStrip::Look::channels)),
      desks_(new TabStrip(TabStrip::Look::words)), list_(flat_button(tr("All channels"))),
      sample_rate_(flat_button(tr("Sample rate"))), live_(new QToolButton),
      study_name_(new QLabel) {
    setObjectName("top_bar");
    setFixedHeight(bar_height);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(6, 0, 12, 0);
    row->setSpacing(8);
    menus_->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
    row->addWidget(menus_);
    row->addSpacing(16);
    row->addWidget(channels_, 1);
    row->addWidget(list_);
    row->addWidget(study_name_);
    row->addWidget(live_);
    row->addSpacing(8);
    row->addWidget(desks_);
    row->addWidget(sample_rate_);
    channels_->setAccessibleName(tr("Channels"));
    list_->setText(QStringLiteral("▾"));
    list_->setToolTip(tr("All channels, with their verdicts (Ctrl+L)"));
    study_name_->setForegroundRole(QPalette::PlaceholderText);
    study_name_->setObjectName("study_name");
    live_->setObjectName("live_mark");
    live_->hide();
    connect(live_, &QToolButton::clicked, this, &TopBar::live_end_asked_for);
    desks_->setAccessibleName(tr("Desks"));
    QStringList words, hints;
    for (const Desk desk : all_desks) {
        words << title_of(desk);
        hints << tr("Ctrl+%1").arg(static_cast<int>(desk) + 1);
    }
    desks_->set_tabs(words);
    desks_->set_hints(hints);
    sample_rate_->setPopupMode(QToolButton::InstantPopup);
    sample_rate_->setToolTip(tr("Sample rate of the study"));
    fill_sample_rates();
    connect(channels_, &TabStrip::chosen_by_user, &session_, &Session::select_channel);
    connect(channels_, &TabStrip::opened_by_user, this, &TopBar::rename_asked_for);
    connect(channels_, &TabStrip::menu_asked_for, this,
            [this](int, const QPoint& global) { emit channel_menu_asked_for(global); });
    connect(desks_, &TabStrip::chosen_by_user, this,
            [this](int desk) { emit desk_chosen(static_cast<Desk>(desk)); });
    connect(list_, &QToolButton::clicked, this, &TopBar::open_channel_list);
    connect(&session_, &Session::study_changed, this, &TopBar::refresh);
    connect(&session_, &Session::selection_changed, this, &TopBar::refresh);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, &TopBar::refresh);
    refresh();
}

void TopBar::show_live(const QString& name, const QString& problem) {
    live_->setVisible(!name.isEmpty());
    if (name.isEmpty()) {
        return;
    }
    const bool follows = problem.isEmpty();
    live_->setText((follows ? tr("● live: %1") : tr("◇ live: %1")).arg(name));
    live_->setToolTip(follows ? tr("What you change is set on the device at once. A click ends it.")
                              : tr("Not set at the moment: %1. A click ends it.").arg(problem));
    live_->setAccessibleName(live_->text());
    const QColor colour = follows ? theme().copper : theme().not_met;
    live_->setStyleSheet(QStringLiteral("QToolButton { border: 1px solid %1; color: %1; "
                                        "padding: 2px 8px; }")
                             .arg(colour.name()));
    show_list_button();
}

void TopBar::fill_sample_rates() {
    auto* menu = new QMenu(sample_rate_);
    const auto use = [this](double hz) {
        session_.edit(tr("Change the sample rate to %1").arg(rate_text(hz)),
                      [hz](Study& study) { study.sample_rate_hz = hz; });
    };
    for (const double hz : {32000.0, 44100.0, 48000.0, 88200.0, 96000.0, 176400.0, 192000.0}) {
        QAction* action = menu->addAction(rate_text(hz), this, [use, hz] { use(hz); });
        action->setCheckable(true);
        action->setData(hz);
    }
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        for (QAction* action : menu->actions()) {
            action->setChecked(action->data() == session_.study().sample_rate_hz);
        }
    });
    menu->addAction(tr("Another…"), this, [this, use] {
        bool ok = false;
        const double hz =
            QInputDialog::getDouble(this, tr("Sample rate"), tr("Samples a second"),
                                    session_.study().sample_rate_hz, 100, 1e7, 1, &ok);
        if (ok) {
            use(hz);
        }
    });
    sample_rate_->setMenu(menu);
}

void TopBar::refresh() {
    QStringList names;
    std::vector<QColor> colours;
    for (const auto& channel : session_.study().channels) {
        colours.push_back(channel_colour(QString::fromStdString(channel->colour),
                                         static_cast<int>(names.size())));
        names << QString::fromStdString(channel->name);
    }
    channels_->set_tabs(names, colours);
    if (channels_->chosen() != session_.selection().channel) {
        channels_->choose(session_.selection().channel);
    }
    sample_rate_->setText(rate_text(session_.study().sample_rate_hz));
    show_list_button();
}

void TopBar::show_list_button() {
    list_->setVisible(!channels_->all_fit());
}

void TopBar::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    study_name_->setVisible(width() >= room_for_a_name);
    // The tabs have their new width once the layout has been worked out.
    QMetaObject::invokeMethod(this, &TopBar::show_list_button, Qt::QueuedConnection);
}

void TopBar::show_desk(Desk desk) {
    desks_->choose(static_cast<int>(desk));
}

void TopBar::show_study_name(const QString& name, const QString& path) {
    study_name_->setText(name);
    study_name_->setToolTip(path);
}

void TopBar::open_channel_list() {
    auto* list = new ChannelList(session_, this);
    const QWidget& below = list_->isVisible() ? static_cast<QWidget&>(*list_) : *channels_;
    QPoint at = below.mapToGlobal(QPoint(0, below.height()));
    const int right = mapToGlobal(QPoint(width(), 0)).x();
    at.setX(std::min(at.x(), right - list->width() - 8));
    list->move(at);
    list->show();
}

} // namespace syntonon
