// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/deliver_desk.h"

#include "app/model/delivery_commands.h"
#include "app/model/device_work.h"
#include "app/model/words_work.h"
#include "app/panes/companion.h"
#include "app/panes/deliver/budget_pane.h"
#include "app/panes/deliver/delivery_card.h"
#include "app/panes/deliver/delivery_form.h"
#include "app/panes/deliver/delivery_preview.h"
#include "app/panes/deliver/device_page.h"
#include "app/panes/deliver/loads_page.h"
#include "app/panes/deliver/processor_page.h"
#include "app/panes/deliver/transfer_page.h"
#include "app/panes/deliver/words_page.h"
#include "app/panes/deliver/words_pane.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "core/study/delivery_budget.h"

#include <QApplication>
#include <QDir>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <memory>

namespace syntonon {
namespace {

constexpr auto folder_key = "export_folder";
constexpr int soon_ms = 120;
constexpr int words_tab = 1, device_tab = 3; // of the upper companion
constexpr int transfer_tab = 2;              // of the lower one

QString word_of(FileFormat format) {
    switch (format) {
    case FileFormat::csv:
        return QObject::tr("CSV");
    case FileFormat::json:
        return QObject::tr("JSON");
    case FileFormat::c_header:
        return QObject::tr("C header");
    case FileFormat::text:
        return QObject::tr("text");
    case FileFormat::cpp_class:
        return QObject::tr("C++ class");
    case FileFormat::instrument:
        return QObject::tr("C++ instrument");
    case FileFormat::lv2:
        return QObject::tr("LV2 plug-in");
    case FileFormat::hex_words:
        return QObject::tr("hex words");
    case FileFormat::verilog:
        return QObject::tr("Verilog");
    case FileFormat::wav:
        return QObject::tr("WAV");
    case FileFormat::form:
        return QObject::tr("own form");
    }
    return {};
}

} // namespace

DeliverDesk::DeliverDesk(Session& session, DeliveryRecords& records, QObject* parent)
    : QObject(parent), session_(session), records_(records),
      new_(new QPushButton(tr("New delivery"))), remove_(new QPushButton(tr("Remove"))),
      write_all_(new QPushButton(tr("Write all"))), form_(new DeliveryForm(session)),
      preview_(new DeliveryPreview), proof_(new QTableWidget), words_(new WordsWork(session, this)),
      words_pane_(new WordsPane(*words_)), words_page_(new WordsPage(session, *words_)),
      processor_page_(new ProcessorPage(session)), budget_(new BudgetPane),
      loads_(new LoadsPage(session)), device_(new DeviceWork(session, devices_, this)),
      device_page_(new DevicePage(session, *device_)), transfer_page_(new TransferPage(*device_)),
      middle_(new QWidget), upper_(new Companion(tr("Upper companion"))),
      lower_(new Companion(tr("Lower companion"))) {
    list_ = build_list();
    set_up_rows(*proof_,
                {tr("deviation of the files just written"), tr("coefficient"), tr("level")});
    set_up_reading(*proof_, beside_page);
    proof_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    proof_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    title_numbers(*proof_, {1, 2});
    proof_->setTextElideMode(Qt::ElideMiddle);
    proof_->setAccessibleName(tr("Greatest deviation from the design, as read back"));
    proof_->setToolTip(tr("Each file was read back from the disk: its greatest deviation from the "
                          "design, in a coefficient and in level"));
    add_pages();
    connect_device();
    auto* column = new QVBoxLayout(middle_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(words_pane_, 3);
    column->addWidget(preview_, 2);
    connect(words_, &WordsWork::changed, this, &DeliverDesk::show_words);
    connect(words_pane_, &WordsPane::structure_chosen, form_, &DeliveryForm::take_structure);
    connect(&session_, &Session::selection_changed, this, [this] {
        if (active_ && !soon_.isActive()) {
            soon_.start();
        }
    });
    soon_.setSingleShot(true);
    soon_.setInterval(soon_ms);
    connect(&soon_, &QTimer::timeout, this, &DeliverDesk::refresh_now);
    connect(&session_, &Session::study_changed, this, [this] {
        if (active_ && !soon_.isActive()) {
            soon_.start();
        }
    });
    // A design that was waited for is there now: what could not be planned may be.
    connect(&session_, &Session::jobs_changed, this, [this] {
        plans_.clear();
        if (active_ && !soon_.isActive()) {
            soon_.start();
        }
    });
    connect(preview_, &DeliveryPreview::folder_changed, this, &DeliverDesk::show_outlook);
    connect(preview_, &DeliveryPreview::permission_changed, this, &DeliverDesk::show_outlook);
    connect(preview_, &DeliveryPreview::write_asked_for, this, &DeliverDesk::write);
    connect(remove_, &QPushButton::clicked, this, [this] {
        remove_delivery(session_, chosen_);
        refresh_now();
    });
}

void DeliverDesk::add_pages() {
    auto* form_scroll = new QScrollArea;
    form_scroll->setFrameShape(QFrame::NoFrame);
    form_scroll->setWidgetResizable(true);
    form_scroll->setWidget(form_);
    form_scroll->setFocusPolicy(Qt::NoFocus);
    form_scroll->setAccessibleName(tr("Layout"));
    upper_->add_page(tr("Layout"), form_scroll);
    upper_->add_page(tr("Words"), words_page_);
    upper_->add_page(tr("Processor"), processor_page_);
    upper_->add_page(tr("Device"), device_page_);
    lower_->add_page(tr("Read back"), proof_);
    lower_->add_page(tr("This machine"), loads_);
    lower_->add_page(tr("Transfer"), transfer_page_);
}

void DeliverDesk::connect_device() {
    connect(device_, &DeviceWork::changed, this, [this] {
        if (active_) {
            show_cards();
        }
    });
    connect(device_page_, &DevicePage::dry_run_asked_for, this, [this] {
        show_transfer_page();
        transfer_page_->show_dry_run();
    });
    connect(device_page_, &DevicePage::sending, this, &DeliverDesk::show_transfer_page);
}

QWidget* DeliverDesk::build_list() {
    auto* list = new QWidget;
    auto* column = new QVBoxLayout(list);
    column->setContentsMargins(12, 10, 12, 12);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Deliveries"));
    title->setFont(text_font(13, QFont::DemiBold));
    head->addWidget(title, 1);
    head->addWidget(new_);
    column->addLayout(head);
    auto* menu = new QMenu(new_);
    new_->setMenu(menu);
    fill_new_menu();
    auto* scroll = card_scroll_ = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setAccessibleName(tr("Deliveries"));
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* cards = new QWidget;
    card_column_ = new QVBoxLayout(cards);
    card_column_->setContentsMargins(0, 4, 0, 4);
    card_column_->setSpacing(10);
    card_column_->addStretch(1);
    scroll->setWidget(cards);
    column->addWidget(scroll, 1);
    column->addWidget(budget_);
    auto* foot = new QHBoxLayout;
    foot->addWidget(remove_);
    foot->addStretch(1);
    foot->addWidget(write_all_);
    write_all_->setToolTip(
        tr("The files of every delivery, each where it was written last or in the "
           "folder shown here"));
    connect(write_all_, &QPushButton::clicked, this, &DeliverDesk::write_all);
    column->addLayout(foot);
    return list;
}

void DeliverDesk::fill_new_menu() {
    const QStringList titles{tr("CSV table, double"), tr("JSON, double"), tr("C header, double"),
                             tr("C header, float")};
    for (std::size_t i = 0; i < standard_deliveries().size(); ++i) {
        new_->menu()->addAction(titles.value(static_cast<qsizetype>(i)), this, [this, i] {
            choose(add_delivery(session_, standard_deliveries()[i]));
        });
    }
    const auto offer_source = [this](const QString& title, const char* id, FileFormat format) {
        new_->menu()->addAction(title, this, [this, id, format] {
            Delivery delivery = standard_deliveries().front();
            delivery.name = delivery.id = id;
            delivery.layout.format = format;
            choose(add_delivery(session_, delivery));
        });
    };
    offer_source(tr("C++ instrument, test, host"), "instrument", FileFormat::instrument);
    offer_source(tr("LV2 plug-in"), "plug-in", FileFormat::lv2);
    new_->menu()->addSeparator();
    new_->menu()->addAction(tr("Device (AES70)"), this, [this] {
        Delivery delivery = standard_deliveries().front();
        delivery.name = delivery.id = "device";
        choose(add_delivery(session_, delivery));
        show_device_page();
    });
}

void DeliverDesk::show_words_page() {
    upper_->show_page(words_tab);
}

void DeliverDesk::show_device_page() {
    upper_->show_page(device_tab);
}

void DeliverDesk::show_transfer_page() {
    lower_->show_page(transfer_tab);
}

DeskParts DeliverDesk::parts() const {
    DeskParts parts;
    parts.left = list_;
    parts.middle = middle_;
    parts.upper = upper_;
    parts.lower = lower_;
    parts.columns = {300, 580, 400};
    parts.rows = {440, 240};
    return parts;
}

void DeliverDesk::prepare() {
    for (const Delivery& delivery : session_.study().deliveries) {
        plan(delivery, folder_of(delivery.id));
    }
}

void DeliverDesk::set_active(bool active) {
    active_ = active;
    if (active) {
        refresh_now();
    }
}

void DeliverDesk::choose(const std::string& delivery) {
    chosen_ = delivery;
    proof_->setRowCount(0);
    preview_->forget_permission();
    refresh_now();
    show_chosen_card();
}

// Later, when the budget has taken its room below.
void DeliverDesk::show_chosen_card() {
    QTimer::singleShot(0, this, [this] {
        QApplication::sendPostedEvents(nullptr, QEvent::LayoutRequest);
        for (DeliveryCard* card : cards_) {
            if (card->id() == chosen_) {
                card_scroll_->ensureWidgetVisible(card, 0, 8);
            }
        }
    });
}

QString DeliverDesk::folder_of(const std::string& delivery) const {
    const DeliveryRecord* record = records_.of(delivery);
    return record != nullptr ? record->folder
                             : QSettings().value(folder_key, QDir::homePath()).toString();
}

void DeliverDesk::set_folder(const QString& folder) {
    preview_->folder_edit()->setText(folder);
}

QString DeliverDesk::description_of(const Delivery& delivery) const {
    QStringList names;
    for (const std::string& id : delivery.channels) {
        const Channel* channel = channel_of(session_.study(), id);
        names << QString::fromStdString(channel != nullptr ? channel->name : id);
    }
    const Processor* processor = processor_of(session_.study(), delivery.processor);
    const QString numbers =
        processor != nullptr ? QString::fromStdString(coefficient_title(processor->section_words))
        : delivery.layout.number == NumberType::real32 ? tr("float")
                                                       : tr("double");
    return tr("%1 · %2 · %3")
        .arg(names.isEmpty() ? tr("all channels") : names.join(", "), numbers,
             delivery.device.address.empty() ? word_of(delivery.layout.format) : tr("device"));
}

const DeliverDesk::Plan& DeliverDesk::plan(const Delivery& delivery, const QString& folder) {
    if (!(planned_for_ == session_.study())) {
        planned_for_ = session_.study();
        plans_.clear();
    }
    const auto key = std::pair(delivery.id, folder);
    auto known = plans_.find(key);
    if (known == plans_.end()) {
        Plan made = folder.isEmpty()
                        ? Plan(refuse("folder", "is empty", "choose where the files go"))
                        : plan_delivery(session_.study(), delivery, folder.toStdString(),
                                        session_.briefs());
        known = plans_.emplace(key, std::move(made)).first;
    }
    return known->second;
}

void DeliverDesk::refresh_now() {
    soon_.stop();
    const Study& study = session_.study();
    if (delivery_of(study, chosen_) == nullptr) {
        chosen_ = study.deliveries.empty() ? std::string() : study.deliveries.front().id;
        proof_->setRowCount(0);
    }
    device_->refresh(); // whose change shows the cards, where they are looked at
    if (!active_) {
        show_cards();
    }
    show_chosen();
    words_->look_at(active_ ? chosen_ : std::string());
    show_words();
    show_budget();
}

void DeliverDesk::show_words() {
    const Delivery* delivery = delivery_of(session_.study(), chosen_);
    const Channel* channel = session_.channel();
    const bool has_words = delivery != nullptr && !delivery->processor.empty();
    words_pane_->setVisible(has_words);
    words_pane_->show_result(channel != nullptr ? QString::fromStdString(channel->name)
                                                : QString());
    words_page_->show_result(chosen_);
}

void DeliverDesk::show_budget() {
    const Delivery* delivery = delivery_of(session_.study(), chosen_);
    const Processor* processor =
        delivery != nullptr ? processor_of(session_.study(), delivery->processor) : nullptr;
    if (processor == nullptr) {
        budget_->show_nothing();
        loads_->use_processor(nullptr, 0);
        return;
    }
    loads_->use_processor(processor, block_frames_of(*delivery, *processor));
    const bool takes_room = budget_->isHidden();
    budget_->show_budget(*processor, block_frames_of(*delivery, *processor),
                         session_.study().sample_rate_hz,
                         budget_of(session_.study(), *delivery, session_.briefs()));
    if (takes_room) {
        show_chosen_card();
    }
}

void DeliverDesk::show_cards() {
    const auto& deliveries = session_.study().deliveries;
    while (cards_.size() > deliveries.size()) {
        delete cards_.back();
        cards_.pop_back();
    }
    while (cards_.size() < deliveries.size()) {
        auto* card = new DeliveryCard;
        card_column_->insertWidget(static_cast<int>(cards_.size()), card);
        connect(card, &DeliveryCard::clicked, this, [this, card] { choose(card->id()); });
        cards_.push_back(card);
    }
    for (std::size_t i = 0; i < deliveries.size(); ++i) {
        const Delivery& delivery = deliveries[i];
        const auto of_device = device_->state(delivery.id);
        cards_[i]->show_delivery(
            delivery, description_of(delivery),
            of_device ? *of_device
                      : records_.state(delivery.id, plan(delivery, folder_of(delivery.id))),
            delivery.id == chosen_);
    }
}

void DeliverDesk::show_chosen() {
    const Delivery* delivery = delivery_of(session_.study(), chosen_);
    remove_->setEnabled(delivery != nullptr);
    write_all_->setEnabled(delivery != nullptr && !writer_.is_busy());
    form_->show_delivery(chosen_);
    processor_page_->show_delivery(chosen_);
    device_page_->show_delivery(chosen_);
    transfer_page_->show_delivery(chosen_);
    preview_->setEnabled(delivery != nullptr);
    if (delivery == nullptr) {
        preview_->show_plan(tr("No delivery yet"), std::vector<PlannedFile>());
        preview_->show_outlook(tr("A delivery says which coefficients are handed over and how they "
                                  "are laid out: make one with New delivery."),
                               false);
        preview_->write_button()->setEnabled(false);
        return;
    }
    if (folder_shown_for_ != chosen_) {
        folder_shown_for_ = chosen_;
        preview_->set_folder(folder_of(chosen_));
    }
    show_outlook();
}

// Those that are there and not ours to replace.
std::vector<std::filesystem::path>
DeliverDesk::in_the_way(const std::string& delivery, const std::vector<PlannedFile>& files) const {
    auto there = existing_among(files);
    std::erase_if(there, [&](const auto& path) { return records_.is_ours(delivery, path); });
    return there;
}

void DeliverDesk::show_outlook() {
    const Delivery* delivery = delivery_of(session_.study(), chosen_);
    if (delivery == nullptr) {
        return;
    }
    const Plan& files = plan(*delivery, preview_->folder());
    preview_->prefer_channel(session_.channel() != nullptr ? session_.channel()->id : "");
    preview_->show_plan(QString::fromStdString(delivery->name), files);
    if (!files) {
        preview_->show_outlook(
            QStringLiteral("◇ ") + QString::fromStdString(to_text(files.error())), true);
        return;
    }
    const auto there = in_the_way(chosen_, *files);
    if (writer_.is_busy()) {
        preview_->show_outlook(tr("Files are being written…"), true);
    } else if (there.empty()) {
        preview_->show_outlook(QString(), false);
    } else if (preview_->may_replace()) {
        preview_->show_outlook(tr("%1 existing files will be replaced.").arg(there.size()), false);
    } else {
        preview_->show_outlook(tr("◇ %1 of these files exist already: allow replacing them, or "
                                  "change the name or the folder.")
                                   .arg(there.size()),
                               true);
    }
}

DeliverDesk::ToWrite DeliverDesk::to_write(const Delivery& delivery, const QString& folder,
                                           bool may_replace) {
    const Plan& files = plan(delivery, folder);
    const bool replace = may_replace || (files && in_the_way(delivery.id, *files).empty());
    return {delivery.id, delivery.name, folder, files,
            replace ? Existing::replace : Existing::refuse};
}

// On a slow volume the window goes on meanwhile.
void DeliverDesk::begin_to_write(std::vector<ToWrite> all,
                                 void (DeliverDesk::*show)(const std::vector<ToWrite>&,
                                                           const std::vector<Delivered>&)) {
    const auto shared = std::make_shared<const std::vector<ToWrite>>(std::move(all));
    writer_.begin(
        [shared] {
            std::vector<Delivered> delivered;
            for (const ToWrite& one : *shared) {
                delivered.push_back(one.files.and_then([&](const std::vector<PlannedFile>& files) {
                    return write_delivery(files, one.existing);
                }));
            }
            return delivered;
        },
        [this, shared, show](const std::vector<Delivered>& delivered) {
            for (std::size_t i = 0; i < delivered.size(); ++i) {
                if (delivered[i]) {
                    const ToWrite& one = (*shared)[i];
                    records_.wrote(one.id, one.folder, *one.files);
                }
            }
            refresh_now(); // before it is said: what was to be refreshed soon would take it away
            (this->*show)(*shared, delivered);
        });
    if (writer_.is_busy()) {
        show_chosen();
        preview_->say(tr("Being written; the volume is slow…"), false);
    }
}

// Each where it was written last, new ones into the folder that is shown. What is no file of ours
// is not replaced.
void DeliverDesk::write_all() {
    const QString shown = QDir::cleanPath(preview_->folder());
    std::vector<ToWrite> all;
    for (const Delivery& delivery : session_.study().deliveries) {
        const DeliveryRecord* record = records_.of(delivery.id);
        if (record == nullptr && !delivery.device.address.empty()) {
            continue; // is sent, not written
        }
        const bool is_shown = delivery.id == chosen_;
        all.push_back(to_write(delivery, record != nullptr && !is_shown ? record->folder : shown,
                               is_shown && preview_->may_replace()));
    }
    preview_->forget_permission();
    begin_to_write(std::move(all), &DeliverDesk::show_all_written);
}

void DeliverDesk::show_all_written(const std::vector<ToWrite>& all,
                                   const std::vector<Delivered>& delivered) {
    std::size_t files = 0;
    QStringList problems;
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (delivered[i]) {
            files += delivered[i]->size();
        } else {
            problems << QString::fromStdString(all[i].name + ": " + to_text(delivered[i].error()));
        }
    }
    const QString done = files == 1 ? tr("1 file") : tr("%1 files").arg(files);
    preview_->say(problems.isEmpty() ? tr("● %1 written and read back.").arg(done)
                                     : tr("◇ %1 written; %2").arg(done, problems.join("; ")),
                  !problems.isEmpty());
}

void DeliverDesk::write() {
    if (const Delivery* delivery = delivery_of(session_.study(), chosen_)) {
        begin_to_write(
            {to_write(*delivery, QDir::cleanPath(preview_->folder()), preview_->may_replace())},
            &DeliverDesk::show_written);
    }
}

void DeliverDesk::show_written(const std::vector<ToWrite>& one,
                               const std::vector<Delivered>& delivered) {
    const Delivered& files = delivered.front();
    const ToWrite& asked = one.front();
    // On a slow volume another one may be looked at by now.
    const bool is_shown = asked.id == chosen_;
    const QString whose = is_shown ? QString() : QString::fromStdString(asked.name + ": ");
    if (!files) {
        preview_->say(QStringLiteral("◇ ") + whose + QString::fromStdString(to_text(files.error())),
                      true);
        return;
    }
    QSettings().setValue(folder_key, asked.folder);
    const QString done = files->size() == 1 ? tr("1 file") : tr("%1 files").arg(files->size());
    if (!is_shown) {
        preview_->say(tr("● %1%2 written and read back.").arg(whose, done), false);
        return;
    }
    preview_->forget_permission();
    const Deviation worst = show_proof(*files);
    show_outlook();
    preview_->say(tr("● %1 written and read back. Greatest deviation from the design: %2 in a "
                     "coefficient, %3 dB in level.")
                      .arg(done)
                      .arg(worst.greatest_coefficient, 0, 'g', 3)
                      .arg(worst.greatest_db, 0, 'g', 3),
                  false);
}

// The greatest of the deviations.
Deviation DeliverDesk::show_proof(const std::vector<DeliveredFile>& files) {
    proof_->setRowCount(static_cast<int>(files.size()));
    Deviation worst;
    for (int row = 0; row < proof_->rowCount(); ++row) {
        const DeliveredFile& file = files[static_cast<std::size_t>(row)];
        const Deviation deviation = file.deviation.value_or(Deviation{});
        const QString text[] = {
            QString::fromStdString(file.path.filename().string()),
            file.deviation ? QString::number(deviation.greatest_coefficient, 'g', 3) : tr("same"),
            file.deviation ? tr("%1 dB").arg(deviation.greatest_db, 0, 'g', 3) : tr("bytes")};
        for (int column = 0; column < proof_->columnCount(); ++column) {
            auto* item = new QTableWidgetItem(text[column]);
            item->setToolTip(text[column]);
            item->setTextAlignment((column == 0 ? Qt::AlignLeft : Qt::AlignRight)
                                   | Qt::AlignVCenter);
            proof_->setItem(row, column, item);
        }
        worst.greatest_coefficient =
            std::max(worst.greatest_coefficient, deviation.greatest_coefficient);
        worst.greatest_db = std::max(worst.greatest_db, deviation.greatest_db);
    }
    return worst;
}

} // namespace syntonon
