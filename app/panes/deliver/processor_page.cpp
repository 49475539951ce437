// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/processor_page.h"

#include "app/model/delivery_commands.h"
#include "app/model/processor_commands.h"
#include "app/panes/deliver/processor_fields.h"
#include "app/widgets/said.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/study/processor_json.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace syntonon {

ProcessorPage::ProcessorPage(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), status_(new QLabel), table_(new QTableWidget),
      copy_(new QPushButton(tr("Copy"))), restore_(new QPushButton(tr("As it came"))),
      read_(new QPushButton(tr("Read…"))), write_(new QPushButton(tr("Write…"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 10, 16, 8);
    column->setSpacing(6);
    column->addWidget(build_buttons());
    status_->setWordWrap(true);
    status_->setObjectName("processor_status");
    column->addWidget(status_);
    set_up_rows(*table_, {tr("property"), tr("value")});
    table_->setFrameShape(QFrame::NoFrame);
    table_->setShowGrid(false);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    table_->setAccessibleName(tr("The processor's profile"));
    column->addWidget(table_, 1);
    connect(table_, &QTableWidget::itemChanged, this,
            [this](const QTableWidgetItem* item) { take(item->row()); });
}

QWidget* ProcessorPage::build_buttons() {
    auto* row_widget = new QWidget;
    auto* row = new QHBoxLayout(row_widget);
    row->setContentsMargins(0, 0, 0, 0);
    for (QPushButton* button : {copy_, restore_, read_, write_}) {
        row->addWidget(button);
    }
    row->addStretch(1);
    copy_->setToolTip(tr("A profile of its own to change, under another name"));
    restore_->setToolTip(tr("What this study changed in it is taken back; a copy goes"));
    read_->setToolTip(tr("A profile out of a file (.syntonon-processor)"));
    write_->setToolTip(tr("This profile into a file, for other studies"));
    connect(copy_, &QPushButton::clicked, this, [this] {
        if (const Processor* shown = processor()) {
            use(copy_processor(session_, *shown), tr("processor"));
        }
    });
    connect(restore_, &QPushButton::clicked, this, [this] {
        if (const Processor* shown = processor()) {
            remove_processor(session_, std::string(shown->id));
        }
    });
    const QString filter = tr("Processor profiles (*%1)").arg(text_of(processor_file_ending));
    connect(read_, &QPushButton::clicked, this, [this, filter] {
        if (const QString path =
                QFileDialog::getOpenFileName(this, tr("Read a profile"), {}, filter);
            !path.isEmpty()) {
            read_file(path);
        }
    });
    connect(write_, &QPushButton::clicked, this, [this, filter] {
        if (const QString path =
                QFileDialog::getSaveFileName(this, tr("Write the profile"), {}, filter);
            !path.isEmpty()) {
            write_file(path);
        }
    });
    return row_widget;
}

void ProcessorPage::read_file(const QString& path) {
    const auto file = load_processor(path.toStdString());
    if (!file) {
        say(QStringLiteral("◇ ") + shown_words(to_text(file.error())), true);
        return;
    }
    if (auto ok = put_processor(session_, file->processor, tr("read")); !ok) {
        say(QStringLiteral("◇ ") + shown_words(to_text(ok.error())), true);
        return;
    }
    use(file->processor.id, tr("processor"));
}

void ProcessorPage::write_file(const QString& path) {
    const Processor* shown = processor();
    if (shown == nullptr) {
        return;
    }
    QString named = path;
    const QString ending = text_of(processor_file_ending);
    if (!named.endsWith(ending)) {
        named += ending;
    }
    const auto saved = save_processor(*shown, named.toStdString());
    say(saved ? tr("● Written: %1").arg(named)
              : QStringLiteral("◇ ") + shown_words(to_text(saved.error())),
        !saved);
}

// The delivery is for that one from now on.
void ProcessorPage::use(const std::string& processor, const QString& what) {
    if (delivery_of(session_.study(), delivery_) == nullptr) {
        return;
    }
    edit_delivery(session_, delivery_, what, [&](Delivery& delivery) {
        delivery.processor = processor;
        const Processor* now = processor_of(session_.study(), processor);
        if (now != nullptr && !now->has(delivery.structure)) {
            delivery.structure = now->structures.front().structure;
            delivery.found.clear();
        }
    });
}

const Processor* ProcessorPage::processor() const {
    const Delivery* delivery = delivery_of(session_.study(), delivery_);
    return delivery != nullptr ? processor_of(session_.study(), delivery->processor) : nullptr;
}

QString ProcessorPage::problem() const {
    return status_->text();
}

void ProcessorPage::say(const QString& words, bool is_problem) {
    say_on(*status_, words, is_problem);
}

void ProcessorPage::show_delivery(const std::string& delivery) {
    delivery_ = delivery;
    refresh();
}

void ProcessorPage::take(int row) {
    const Processor* shown = processor();
    if (filling_ || shown == nullptr) {
        return;
    }
    const std::vector<ProcessorField> fields = processor_fields(*shown);
    const ProcessorField& field = fields.at(static_cast<std::size_t>(row));
    const QString typed = table_->item(row, 1)->text();
    if (field.is_title || typed == field.text(*shown)) {
        return;
    }
    Processor changed = *shown;
    auto ok = field.take(changed, typed);
    ok = ok ? put_processor(session_, changed, field.caption) : ok;
    if (!ok) {
        refresh();
        say(QStringLiteral("◇ %1: ").arg(field.caption) + shown_words(to_text(ok.error())), true);
    }
}

void ProcessorPage::refresh() {
    const Processor* shown = processor();
    filling_ = true;
    const std::vector<ProcessorField> fields =
        shown != nullptr ? processor_fields(*shown) : std::vector<ProcessorField>();
    table_->setRowCount(static_cast<int>(fields.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const ProcessorField& field = fields[static_cast<std::size_t>(row)];
        auto* caption = new QTableWidgetItem(field.caption);
        auto* value = new QTableWidgetItem(field.is_title ? QString() : field.text(*shown));
        caption->setFlags(Qt::ItemIsEnabled);
        if (field.is_title) {
            caption->setFont(text_font(12, QFont::DemiBold));
            value->setFlags(Qt::ItemIsEnabled);
        }
        for (QTableWidgetItem* item : {caption, value}) {
            item->setToolTip(field.tip.isEmpty() ? value->text() : field.tip);
        }
        table_->setItem(row, 0, caption);
        table_->setItem(row, 1, value);
    }
    filling_ = false;
    const bool is_own = shown != nullptr && is_own_processor(session_.study(), shown->id);
    const bool is_shipped = shown != nullptr && shipped_processor(shown->id) != nullptr;
    copy_->setEnabled(shown != nullptr);
    write_->setEnabled(shown != nullptr);
    restore_->setEnabled(is_own && is_shipped);
    say(shown == nullptr       ? tr("Choose a processor on the page Layout, or read one.")
        : is_own && is_shipped ? tr("Changed in this study.")
        : is_own               ? tr("This study's own.")
                 : tr("Comes with the program; what is typed changes it for this study."),
        false);
}

} // namespace syntonon
