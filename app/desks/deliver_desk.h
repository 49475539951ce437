// The desk of what is handed over: the study's deliveries, what each would write, how each stands.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/desks/desk_frame.h"
#include "app/model/delivery_records.h"
#include "app/model/device_list.h"
#include "app/model/session.h"
#include "app/model/write_beside.h"

#include <QObject>
#include <QTimer>
#include <map>
#include <utility>
#include <vector>

class QPushButton;
class QScrollArea;
class QTableWidget;
class QVBoxLayout;

namespace syntonon {

class DeliveryCard;
class DeliveryForm;
class DeliveryPreview;
class BudgetPane;
class DevicePage;
class DeviceWork;
class LoadsPage;
class ProcessorPage;
class TransferPage;
class WordsPage;
class WordsPane;
class WordsWork;

class DeliverDesk : public QObject {
    Q_OBJECT

public:
    // `records` must outlive the desk.
    DeliverDesk(Session& session, DeliveryRecords& records, QObject* parent = nullptr);

    DeskParts parts() const;
    void prepare();               // plans the files before they are asked for
    void set_active(bool active); // works things out only while it is looked at

    const std::vector<DeliveryCard*>& cards() const { return cards_; }
    DeliveryForm* form() const { return form_; }
    DeliveryPreview* preview() const { return preview_; }
    QPushButton* new_button() const { return new_; }
    QPushButton* remove_button() const { return remove_; }
    QPushButton* write_all_button() const { return write_all_; }
    QTableWidget* proof() const { return proof_; }
    WordsWork& words_work() const { return *words_; }
    WordsPane* words_pane() const { return words_pane_; }
    WordsPage* words_page() const { return words_page_; }
    ProcessorPage* processor_page() const { return processor_page_; }
    BudgetPane* budget_pane() const { return budget_; }
    LoadsPage* loads_page() const { return loads_; }
    DeviceList& devices() { return devices_; }
    DeviceWork& device_work() const { return *device_; }
    DevicePage* device_page() const { return device_page_; }
    TransferPage* transfer_page() const { return transfer_page_; }

    void choose(const std::string& delivery);
    const std::string& chosen() const { return chosen_; }
    void set_folder(const QString& folder);
    void refresh_now();
    bool is_writing() const { return writer_.is_busy(); } // files, beside the window
    void finish_writing() { writer_.finish(); }
    void show_words_page();
    void show_device_page();
    void show_transfer_page();

private:
    void add_pages();
    void connect_device();
    QWidget* build_list();
    void fill_new_menu();
    void show_cards();
    void show_chosen();
    void show_outlook();
    void show_chosen_card();
    void show_words();
    void show_budget();
    // Of one delivery, what is to be written and what came of it.
    struct ToWrite {
        std::string id, name;
        QString folder;
        Expected<std::vector<PlannedFile>> files;
        Existing existing = Existing::refuse;
    };
    using Delivered = Expected<std::vector<DeliveredFile>>;
    ToWrite to_write(const Delivery& delivery, const QString& folder, bool may_replace);
    void write();
    void write_all();
    void begin_to_write(std::vector<ToWrite> all,
                        void (DeliverDesk::*show)(const std::vector<ToWrite>&,
                                                  const std::vector<Delivered>&));
    void show_written(const std::vector<ToWrite>& one, const std::vector<Delivered>& delivered);
    void show_all_written(const std::vector<ToWrite>& all, const std::vector<Delivered>& delivered);
    Deviation show_proof(const std::vector<DeliveredFile>& files);
    QString folder_of(const std::string& delivery) const;
    QString description_of(const Delivery& delivery) const;
    using Plan = Expected<std::vector<PlannedFile>>;
    const Plan& plan(const Delivery& delivery, const QString& folder);
    std::vector<std::filesystem::path> in_the_way(const std::string& delivery,
                                                  const std::vector<PlannedFile>& files) const;

    Session& session_;
    DeliveryRecords& records_;
    bool active_ = false;
    std::string chosen_, folder_shown_for_;
    // What was planned last, good as long as the study stays the same.
    Study planned_for_;
    std::map<std::pair<std::string, QString>, Plan> plans_; // by delivery and folder
    QTimer soon_;                                           // changes in a row are worked out once
    std::vector<DeliveryCard*> cards_;
    QWidget* list_;
    QVBoxLayout* card_column_;
    QScrollArea* card_scroll_ = nullptr;
    QPushButton *new_, *remove_, *write_all_;
    DeliveryForm* form_;
    DeliveryPreview* preview_;
    QTableWidget* proof_;
    WordsWork* words_; // its child
    WordsPane* words_pane_;
    WordsPage* words_page_;
    ProcessorPage* processor_page_;
    BudgetPane* budget_;
    LoadsPage* loads_;
    DeviceList devices_;
    DeviceWork* device_; // its child
    DevicePage* device_page_;
    TransferPage* transfer_page_;
    QWidget* middle_;
    Companion *upper_, *lower_;
    WriteBeside writer_;
};

} // namespace syntonon
