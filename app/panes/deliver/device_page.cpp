// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/device_page.h"

#include "app/panes/deliver/mapping_row.h"
#include "app/widgets/menu_button.h"
#include "app/widgets/said.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/study/chain.h"
#include "core/study/delivery_budget.h"
#include "standin/device/faults.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

namespace syntonon {
namespace {

constexpr int level_ms = 200;
constexpr int ramps_ms[] = {100, 200, 500, 1000};

// By its label where that is another word than its role.
QString output_text(const oca::DeviceObject& block) {
    return block.label.empty() || block.label == block.role
               ? text_of(block.path)
               : QStringLiteral("%1 “%2”").arg(text_of(block.path), text_of(block.label));
}

QString fault_words(oca::FaultKind fault) {
    switch (fault) {
    case oca::FaultKind::drop:
        return QObject::tr("it closes the connection");
    case oca::FaultKind::drop_done:
        return QObject::tr("it closes the connection when it is set");
    case oca::FaultKind::delay:
        return QObject::tr("it answers late");
    case oca::FaultKind::refuse:
        return QObject::tr("it refuses");
    case oca::FaultKind::full:
        return QObject::tr("its memory is full");
    case oca::FaultKind::wrong_read_back:
        return QObject::tr("it says done, and is not");
    case oca::FaultKind::reboot:
        return QObject::tr("it restarts");
    }
    return {};
}

QString quiet_level(const oca::LevelReading& reading) {
    return reading.db ? QObject::tr("%1 dBFS").arg(fixed_number(*reading.db, 1)) : QString();
}

} // namespace

DevicePage::DevicePage(Session& session, DeviceWork& work, QWidget* parent)
    : QWidget(parent), session_(session), work_(work), address_(new QComboBox),
      connect_(new QPushButton(tr("Connect"))),
      simulated_(menu_button(tr("simulated"), tr("Simulated processors, in this program"))),
      output_(menu_button({}, tr("The device's output for this channel"))), status_(new QLabel),
      stages_(new QLabel), level_(new QLabel), nothing_(new QLabel), head_(build_head()),
      column_(nullptr), dry_run_(new QPushButton(tr("Dry run"))), send_(new QPushButton),
      back_(new QPushButton(tr("Undo to before"))), live_(new QPushButton(tr("Live"))),
      takes_(new QPushButton(tr("Read into takes"))),
      more_(menu_button(tr("more"), tr("How it is set; objects proposed anew"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 8);
    column->setSpacing(6);
    column->addWidget(build_connection());
    status_->setWordWrap(true);
    status_->setObjectName("device_status");
    column->addWidget(status_);
    column->addWidget(head_);
    auto* rows = new QWidget;
    column_ = new QVBoxLayout(rows);
    column_->setContentsMargins(0, 0, 0, 0);
    column_->setSpacing(2);
    nothing_->setWordWrap(true);
    nothing_->setForegroundRole(QPalette::PlaceholderText);
    column_->addWidget(nothing_);
    column_->addStretch(1);
    auto* scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setAccessibleName(tr("Stages and objects"));
    scroll->setWidget(rows);
    column->addWidget(scroll, 1);
    column->addWidget(build_buttons());
    level_timer_.setInterval(level_ms);
    connect(&level_timer_, &QTimer::timeout, this, &DevicePage::show_levels);
    connect(&work_, &DeviceWork::changed, this, &DevicePage::refresh);
    connect(&work_, &DeviceWork::live_changed, this, &DevicePage::refresh);
    connect(&work_.devices(), &DeviceList::changed, this, &DevicePage::fill_addresses);
    connect(&session_, &Session::selection_changed, this, &DevicePage::refresh);
    fill_addresses();
    refresh();
}

QWidget* DevicePage::build_connection() {
    auto* widget = new QWidget;
    auto* row = new QHBoxLayout(widget);
    row->setContentsMargins(0, 0, 0, 0);
    address_->setEditable(true);
    address_->setInsertPolicy(QComboBox::NoInsert);
    address_->lineEdit()->setPlaceholderText(tr("host:port of a device (AES70)"));
    address_->setAccessibleName(tr("Address of the device"));
    address_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    row->addWidget(address_, 1);
    row->addWidget(connect_);
    row->addWidget(simulated_);
    connect(address_, &QComboBox::activated, this,
            [this](int i) { connect_to(address_->itemData(i).toString()); });
    connect(address_->lineEdit(), &QLineEdit::returnPressed, this,
            [this] { connect_to(address_->currentText()); });
    connect(connect_, &QPushButton::clicked, this, [this] {
        const DeviceView* seen = view();
        if (seen != nullptr && seen->standing != DeviceStanding::apart) {
            work_.disconnect_device(delivery_);
        } else {
            connect_to(address_->currentText());
        }
    });
    connect(simulated_->menu(), &QMenu::aboutToShow, this, &DevicePage::fill_simulated);
    return widget;
}

QWidget* DevicePage::build_head() {
    auto* widget = new QWidget;
    auto* row = new QHBoxLayout(widget);
    row->setContentsMargins(0, 0, 0, 0);
    stages_->setForegroundRole(QPalette::PlaceholderText);
    level_->setForegroundRole(QPalette::PlaceholderText);
    level_->setToolTip(tr("Of the output's level sensor, as the device tells it"));
    row->addWidget(stages_, 1);
    row->addWidget(level_);
    row->addWidget(output_);
    connect(output_->menu(), &QMenu::aboutToShow, this, &DevicePage::fill_outputs);
    return widget;
}

QWidget* DevicePage::build_buttons() {
    auto* widget = new QWidget;
    auto* column = new QVBoxLayout(widget);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto* upper = new QHBoxLayout;
    upper->addWidget(dry_run_);
    upper->addWidget(send_, 1);
    upper->addWidget(back_);
    auto* lower = new QHBoxLayout;
    lower->addWidget(live_);
    lower->addWidget(takes_);
    lower->addStretch(1);
    lower->addWidget(more_);
    column->addLayout(upper);
    column->addLayout(lower);
    dry_run_->setToolTip(tr("A list of what would be set, and what it is now; nothing is sent"));
    back_->setToolTip(tr("Sets the device to what it was before the last transfer"));
    live_->setCheckable(true);
    live_->setToolTip(tr("What you change is set at once, without muting; begins by sending all"));
    takes_->setToolTip(tr("What the outputs are set to now, as takes to compare with"));
    connect(dry_run_, &QPushButton::clicked, this, &DevicePage::dry_run_asked_for);
    connect(send_, &QPushButton::clicked, this, [this] {
        said_.clear();
        if (work_.is_sending()) {
            work_.stop_sending();
            return;
        }
        work_.send(delivery_);
        emit sending();
    });
    connect(back_, &QPushButton::clicked, this, [this] {
        said_.clear();
        work_.send_back(delivery_);
        emit sending();
    });
    connect(live_, &QPushButton::clicked, this, [this](bool on) {
        said_.clear();
        work_.set_live(delivery_, on);
        refresh(); // where it could not begin
    });
    connect(takes_, &QPushButton::clicked, this, [this] {
        const auto read = work_.read_into_takes(delivery_);
        say(read ? tr("● Read into takes: compare them on the desk Shape.")
                 : QStringLiteral("◇ ") + text_of(to_text(read.error())),
            !read);
    });
    connect(more_->menu(), &QMenu::aboutToShow, this, &DevicePage::fill_more);
    return widget;
}

// --- connecting ---

void DevicePage::fill_addresses() {
    const QString typed = address_->currentText();
    address_->clear();
    for (const KnownDevice& device : work_.devices().all()) {
        address_->addItem(QStringLiteral("%1 · %2").arg(device.address, device.name),
                          device.address);
    }
    address_->setCurrentIndex(-1);
    address_->setEditText(typed);
}

void DevicePage::fill_simulated() {
    QMenu* menu = simulated_->menu();
    menu->clear();
    qDeleteAll(menu->findChildren<QMenu*>(Qt::FindDirectChildrenOnly));
    for (const Processor* processor : processors_of(session_.study())) {
        menu->addAction(tr("Start %1").arg(text_of(processor->name)), this,
                        [this, one = *processor] { start_simulated(one); });
    }
    bool is_first = true;
    for (const KnownDevice& device : work_.devices().all()) {
        if (!device.is_simulated) {
            continue;
        }
        if (std::exchange(is_first, false)) {
            menu->addSeparator();
        }
        fill_running(*menu->addMenu(QStringLiteral("%1 (%2)").arg(device.name, device.address)),
                     device.address);
    }
}

void DevicePage::fill_running(QMenu& menu, const QString& address) {
    menu.addAction(tr("Stop"), this, [this, address] { work_.devices().stop_simulated(address); });
    menu.addSeparator();
    for (const oca::FaultKind fault : oca::all_faults) {
        menu.addAction(
            tr("Next transfer: %1").arg(fault_words(fault)), this,
            [this, address, fault] { work_.devices().fail_next_transfer(address, fault); });
    }
}

void DevicePage::start_simulated(const Processor& processor) {
    const auto started =
        work_.devices().start_simulated(processor, session_.study().sample_rate_hz);
    if (!started) {
        say(QStringLiteral("◇ ") + text_of(to_text(started.error())), true);
        return;
    }
    connect_to(*started);
}

void DevicePage::connect_to(const QString& address) {
    said_.clear();
    work_.use_address(delivery_, address);
    work_.connect_device(delivery_);
    address_->setEditText(address);
}

// --- what goes where ---

void DevicePage::fill_outputs() {
    QMenu* menu = output_->menu();
    menu->clear();
    const DeviceView* seen = view();
    const Channel* channel = session_.channel();
    if (seen == nullptr || seen->tree == nullptr || channel == nullptr) {
        return;
    }
    const auto& all = seen->channels;
    for (const oca::DeviceObject* block : oca::outputs_of(*seen->tree)) {
        const auto owner = std::ranges::find(all, block->path, &oca::MappedChannel::block);
        const bool is_other = owner != all.end() && owner->channel != channel->id;
        QAction* action = menu->addAction(
            is_other ? tr("%1 (now of %2)").arg(output_text(*block), text_of(owner->name))
                     : output_text(*block),
            this, [this, id = channel->id, path = block->path] {
                work_.choose_block(delivery_, id, path);
            });
        action->setCheckable(true);
        action->setChecked(owner != all.end() && !is_other);
    }
}

QMenu* DevicePage::menu_for(const MappingRow& row) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const Channel* channel = session_.channel();
    const DeviceView* seen = view();
    if (channel == nullptr || seen == nullptr || seen->tree == nullptr) {
        return menu;
    }
    const auto choices = work_.choices(delivery_, channel->id, row.stage());
    for (const oca::ObjectChoice& choice : choices) {
        QString text = objects_text(choice.objects, *seen->tree);
        if (choice.problem) {
            text += QStringLiteral(" · ") + text_of(choice.problem->reason);
        } else if (!choice.in_use_by.empty()) {
            const Stage* other = find_stage(channel->stages, choice.in_use_by.front());
            text += tr(" · now of %1")
                        .arg(other != nullptr ? text_of(spoken_name_of(*other)) : QString());
        }
        QAction* action = menu->addAction(
            text, this, [this, id = channel->id, stage = row.stage(), objects = choice.objects] {
                work_.choose_objects(delivery_, id, stage, objects);
            });
        action->setEnabled(!choice.problem);
        action->setCheckable(true);
        action->setChecked(objects_text(choice.objects, *seen->tree) == row.objects());
    }
    if (choices.empty()) {
        menu->addAction(tr("No object of this output can do it"))->setEnabled(false);
    }
    return menu;
}

void DevicePage::fill_more() {
    QMenu* menu = more_->menu();
    menu->clear();
    const DeviceView* seen = view();
    if (seen == nullptr) {
        return;
    }
    const DeviceTarget target = seen->delivery.device;
    const auto add = [&](const QString& text, bool mutes, int ramp_ms) {
        QAction* action = menu->addAction(
            text, this, [this, mutes, ramp_ms] { work_.use_muting(delivery_, mutes, ramp_ms); });
        action->setCheckable(true);
        action->setChecked(target.mutes == mutes && (mutes || target.ramp_ms == ramp_ms));
    };
    add(tr("Outputs muted while they are set"), true, target.ramp_ms);
    for (const int ms : ramps_ms) {
        add(tr("Not muted, by ramps of %1 ms").arg(ms), false, ms);
    }
    menu->addSeparator();
    menu->addAction(tr("Propose objects anew"), this, [this] { work_.propose_anew(delivery_); })
        ->setEnabled(seen->tree != nullptr);
    menu->addAction(tr("Read the device again"), this, [this] { work_.read_again(delivery_); })
        ->setEnabled(seen->tree != nullptr);
    menu->addSeparator();
    for (const KnownDevice& device : work_.devices().all()) {
        if (!device.is_simulated && device.address == text_of(target.address)) {
            menu->addAction(tr("Forget %1 on this machine").arg(device.address), this,
                            [this, address = device.address] { work_.devices().forget(address); });
        }
    }
    menu->addAction(tr("This delivery goes to no device"), this, [this] {
        work_.use_address(delivery_, {});
        address_->setEditText({});
    });
}

// --- showing ---

void DevicePage::show_delivery(const std::string& delivery) {
    if (delivery_ != delivery) { // else it has followed what changed
        delivery_ = delivery;
        said_.clear();
        shown_address_.reset();
        refresh();
    }
}

const oca::MappedChannel* DevicePage::mapped() const {
    const DeviceView* seen = view();
    if (seen == nullptr || session_.channel() == nullptr) {
        return nullptr;
    }
    const auto found =
        std::ranges::find(seen->channels, session_.channel()->id, &oca::MappedChannel::channel);
    return found != seen->channels.end() ? &*found : nullptr;
}

void DevicePage::refresh() {
    const DeviceView* seen = view();
    const bool is_there = seen != nullptr && seen->tree != nullptr;
    setEnabled(!delivery_.empty());
    const std::string address = seen != nullptr ? seen->delivery.device.address : std::string();
    if (shown_address_ != address) { // what is being typed stays
        shown_address_ = address;
        address_->setEditText(text_of(address));
    }
    connect_->setText(seen == nullptr || seen->standing == DeviceStanding::apart ? tr("Connect")
                      : is_there                                                 ? tr("Disconnect")
                                                                                 : tr("Stop"));
    is_there ? level_timer_.start() : level_timer_.stop();
    show_status();
    show_rows();
    show_buttons();
    show_levels();
}

QString DevicePage::status() const {
    return status_->text();
}

QString DevicePage::level_text() const {
    return level_->text();
}

void DevicePage::say(const QString& words, bool is_problem) {
    said_ = words;
    said_problem_ = is_problem;
    show_status();
}

void DevicePage::show_status() {
    const auto show = [this](const QString& words, bool is_problem) {
        say_on(*status_, words, is_problem);
    };
    const DeviceView* seen = view();
    if (!said_.isEmpty()) {
        show(said_, said_problem_);
    } else if (seen == nullptr) {
        show(tr("A delivery may be a device: type its address, choose one from the list, or start "
                "a simulated one."),
             false);
    } else if (seen->standing == DeviceStanding::connecting) {
        show(tr("connecting…"), false);
    } else if (seen->standing == DeviceStanding::apart) {
        show(seen->problem ? QStringLiteral("◇ ") + text_of(to_text(*seen->problem))
                           : tr("○ not connected"),
             seen->problem.has_value());
    } else if (work_.is_sending()) {
        show(work_.sending() == delivery_ ? tr("sending; a stop leaves everything as it was")
                                          : tr("another delivery is being sent"),
             false);
    } else if (work_.live() == delivery_) {
        const QString problem = work_.live_problem();
        show(problem.isEmpty() ? tr("● live: what you change is set at once")
                               : tr("◇ live, but not set: %1").arg(problem),
             !problem.isEmpty());
    } else if (const auto state = work_.state(delivery_)) {
        const bool fits = state->standing != DeliveryStanding::impossible;
        const bool is_in_step = state->standing == DeliveryStanding::as_study;
        QString words = (is_in_step ? QStringLiteral("● ") : QStringLiteral("◇ ")) + state->words;
        if (fits) {
            words +=
                QStringLiteral(" · ")
                + counted(static_cast<qint64>((*seen->plan)->objects.size()), "object", "objects");
        }
        if (!seen->tells_changes) {
            words += tr(" · tells no changes: read it again by “more”");
        }
        const SentToDevice* sent = work_.sent(delivery_);
        if (is_in_step && sent != nullptr) {
            words += tr(" · sent %1").arg(sent->when.toString(QStringLiteral("HH:mm:ss")));
        }
        show(words, !fits);
    }
}

void DevicePage::show_rows() {
    const DeviceView* seen = view();
    const oca::MappedChannel* channel = mapped();
    const std::size_t count = channel != nullptr ? channel->stages.size() : 0;
    head_->setVisible(channel != nullptr);
    if (channel != nullptr) {
        stages_->setText(tr("stages of %1").arg(text_of(channel->name)));
        const oca::DeviceObject* block = seen->tree->at_path(channel->block);
        output_->setText(block == nullptr ? tr("no output") : output_text(*block));
    }
    while (rows_.size() > count) {
        delete rows_.back();
        rows_.pop_back();
    }
    while (rows_.size() < count) {
        auto* row = new MappingRow;
        column_->insertWidget(static_cast<int>(rows_.size()), row);
        connect(row, &MappingRow::clicked, this, [this, row] {
            menu_for(*row)->popup(row->mapToGlobal(QPoint(row->width() / 2, row->height())));
        });
        rows_.push_back(row);
    }
    for (std::size_t i = 0; i < count; ++i) {
        const oca::MappedStage& stage = channel->stages[i];
        rows_[i]->show_stage(stage, objects_text(stage.objects, *seen->tree));
    }
    const bool is_there = seen != nullptr && seen->tree != nullptr;
    nothing_->setVisible(is_there && count == 0);
    nothing_->setText(channel == nullptr ? tr("This channel is not in the delivery: choose one "
                                              "above, or add it on the page Layout.")
                      : channel->problem
                          ? QStringLiteral("◇ ") + text_of(to_text(*channel->problem))
                          : tr("No stage of this channel counts."));
}

void DevicePage::show_buttons() {
    const DeviceView* seen = view();
    const bool is_there = seen != nullptr && seen->tree != nullptr;
    const bool fits = is_there && seen->plan && *seen->plan;
    const bool is_sending = work_.is_sending();
    const bool is_live = !work_.live().empty() && work_.live() == delivery_;
    const bool mutes = seen == nullptr || seen->delivery.device.mutes;
    dry_run_->setEnabled(fits && !is_sending);
    send_->setText(is_sending ? tr("Stop")
                   : mutes    ? tr("Send, outputs muted")
                              : tr("Send by ramps"));
    send_->setEnabled(is_sending || (fits && !is_live));
    send_->setToolTip(mutes ? tr("Muted, set, read back, compared, opened; all of it or nothing")
                            : tr("Object by object in small steps, read back and compared"));
    back_->setEnabled(is_there && !is_sending && work_.can_send_back(delivery_));
    live_->setEnabled(is_live || (fits && !is_sending));
    live_->setChecked(is_live);
    live_->setText(is_live ? tr("● Live") : tr("Live"));
    takes_->setEnabled(is_there && !is_sending);
    more_->setEnabled(seen != nullptr && !is_sending);
}

void DevicePage::show_levels() {
    const oca::MappedChannel* channel = mapped();
    QString text;
    for (const oca::LevelReading& reading : work_.levels(delivery_)) {
        if (channel != nullptr && reading.block == channel->block && reading.db) {
            text = quiet_level(reading);
        }
    }
    level_->setText(text);
}

} // namespace syntonon
