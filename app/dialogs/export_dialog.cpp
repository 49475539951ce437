// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/export_dialog.h"

#include "app/widgets/theme.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QFontDatabase>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSettings>
#include <QSpinBox>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr auto folder_key = "export_folder";

template <class T>
void choose(QComboBox* box, T value) {
    box->setCurrentIndex(box->findData(static_cast<int>(value)));
}

template <class T>
T chosen(const QComboBox* box) {
    return static_cast<T>(box->currentData().toInt());
}

} // namespace

ExportDialog::ExportDialog(Session& session, QWidget* parent)
    : QDialog(parent), session_(session), start_from_(new QComboBox), channels_(new QComboBox),
      format_(new QComboBox), number_(new QComboBox), feedback_(new QComboBox),
      normalisation_(new QComboBox), order_(new QComboBox), digits_(new QSpinBox),
      name_(new QLineEdit), folder_(new QLineEdit), preview_(new QPlainTextEdit),
      files_(new QLabel), status_(new QLabel), replace_(new QCheckBox),
      write_(new QPushButton(tr("Write files"))),
      keep_(new QPushButton(tr("Keep as a delivery of the study"))) {
    setWindowTitle(tr("Export coefficients"));
    resize(980, 600);
    build();
    for (const auto& list : {session_.study().deliveries, standard_deliveries()}) {
        for (const Delivery& delivery : list) {
            start_from_->addItem(QString::fromStdString(delivery.name),
                                 QVariant::fromValue(start_from_->count()));
        }
    }
    std::vector<Delivery> offered = session_.study().deliveries;
    offered.insert(offered.end(), standard_deliveries().begin(), standard_deliveries().end());
    connect(start_from_, &QComboBox::activated, this,
            [this, offered](int i) { use_layout(offered[static_cast<std::size_t>(i)]); });
    use_layout(offered.front());
    for (QComboBox* box : {channels_, format_, feedback_}) {
        connect(box, &QComboBox::currentIndexChanged, this, &ExportDialog::refresh);
    }
    connect(number_, &QComboBox::activated, this, [this] {
        digits_->setValue(chosen<NumberType>(number_) == NumberType::real32 ? 9 : 17);
        refresh();
    });
    connect(normalisation_, &QComboBox::activated, this, [this] {
        // The order that this normalisation needs; the user may change it afterwards.
        order_->setCurrentText(chosen<Normalisation>(normalisation_) == Normalisation::b0_one
                                   ? "gain b1 b2 a1 a2"
                                   : "b0 b1 b2 a1 a2");
        refresh();
    });
    connect(order_, &QComboBox::currentTextChanged, this, &ExportDialog::refresh);
    connect(digits_, &QSpinBox::valueChanged, this, &ExportDialog::refresh);
    connect(name_, &QLineEdit::textChanged, this, &ExportDialog::refresh);
    connect(folder_, &QLineEdit::textChanged, this, &ExportDialog::refresh);
    connect(replace_, &QCheckBox::toggled, this, &ExportDialog::refresh);
    connect(write_, &QPushButton::clicked, this, &ExportDialog::write);
    connect(keep_, &QPushButton::clicked, this, &ExportDialog::keep_in_study);
    refresh();
}

void ExportDialog::fill_choices() {
    channels_->addItem(session_.channel() != nullptr
                           ? tr("%1 only").arg(QString::fromStdString(session_.channel()->name))
                           : tr("none"));
    channels_->addItem(tr("all %1 channels").arg(session_.study().channels.size()));
    format_->addItem(tr("CSV table"), static_cast<int>(FileFormat::csv));
    format_->addItem(tr("JSON"), static_cast<int>(FileFormat::json));
    format_->addItem(tr("C header"), static_cast<int>(FileFormat::c_header));
    number_->addItem(tr("double, 64 bits"), static_cast<int>(NumberType::real64));
    number_->addItem(tr("float, 32 bits"), static_cast<int>(NumberType::real32));
    feedback_->addItem(tr("subtracted: … − a1 y[n−1] − a2 y[n−2]"),
                       static_cast<int>(FeedbackSign::subtracted));
    feedback_->addItem(tr("added: … + a1 y[n−1] + a2 y[n−2]"),
                       static_cast<int>(FeedbackSign::added));
    normalisation_->addItem(tr("a0 = 1"), static_cast<int>(Normalisation::a0_one));
    normalisation_->addItem(tr("b0 = 1, with a gain"), static_cast<int>(Normalisation::b0_one));
    normalisation_->addItem(tr("a0 = ½, all halved"), static_cast<int>(Normalisation::a0_half));
    order_->setEditable(true);
    order_->addItems({"b0 b1 b2 a1 a2", "b0 b1 b2 a0 a1 a2", "a1 a2 b0 b1 b2", "b2 b1 b0 a2 a1",
                      "gain b1 b2 a1 a2"});
    digits_->setRange(1, 17);
}

void ExportDialog::build() {
    fill_choices();
    preview_->setReadOnly(true);
    preview_->setLineWrapMode(QPlainTextEdit::NoWrap);
    QFont fixed = QFontDatabase::systemFont(QFontDatabase::FixedFont);
    fixed.setPixelSize(11);
    preview_->setFont(fixed);
    preview_->setAccessibleName(tr("Preview of the file"));
    replace_->setText(tr("Replace files that exist"));
    files_->setWordWrap(true);
    status_->setWordWrap(true);
    status_->setObjectName("export_status");
    write_->setDefault(true);

    auto* left = new QVBoxLayout;
    left->addLayout(form_layout());
    left->addWidget(files_);
    left->addStretch(1);
    left->addWidget(keep_, 0, Qt::AlignLeft);
    auto* right = new QVBoxLayout;
    right->addWidget(new QLabel(tr("Preview")));
    right->addWidget(preview_, 1);
    auto* columns = new QHBoxLayout;
    columns->addLayout(left, 2);
    columns->addSpacing(12);
    columns->addLayout(right, 3);
    auto* buttons = new QHBoxLayout;
    auto* close = new QPushButton(tr("Close"));
    connect(close, &QPushButton::clicked, this, &QDialog::close);
    buttons->addWidget(status_, 1);
    buttons->addWidget(write_);
    buttons->addWidget(close);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(18, 16, 18, 14);
    all->addLayout(columns, 1);
    all->addLayout(buttons);
    folder_->setText(QSettings().value(folder_key, QDir::homePath()).toString());
}

QFormLayout* ExportDialog::form_layout() {
    auto* form = new QFormLayout;
    form->setVerticalSpacing(9);
    form->addRow(tr("Start from"), start_from_);
    form->addRow(tr("Channels"), channels_);
    form->addRow(tr("File"), format_);
    form->addRow(tr("Numbers"), number_);
    form->addRow(tr("Digits"), digits_);
    form->addRow(tr("a1 and a2 are"), feedback_);
    form->addRow(tr("Scaled to"), normalisation_);
    form->addRow(tr("Order"), order_);
    form->addRow(tr("Layout name"), name_);
    auto* folder_row = new QHBoxLayout;
    auto* browse = new QPushButton(tr("Choose…"));
    folder_row->addWidget(folder_, 1);
    folder_row->addWidget(browse);
    form->addRow(tr("Folder"), folder_row);
    form->addRow(QString(), replace_);
    // The caption before each control is its name for a screen reader.
    for (int row = 0; row < form->rowCount(); ++row) {
        const auto* label = form->itemAt(row, QFormLayout::LabelRole);
        const auto* control = form->itemAt(row, QFormLayout::FieldRole);
        if (label != nullptr && control != nullptr && control->widget() != nullptr) {
            control->widget()->setAccessibleName(static_cast<QLabel*>(label->widget())->text());
        }
    }
    folder_->setAccessibleName(tr("Folder"));
    connect(browse, &QPushButton::clicked, this, [this] {
        if (const QString folder = QFileDialog::getExistingDirectory(
                this, tr("Folder for the files"), folder_->text());
            !folder.isEmpty()) {
            folder_->setText(folder);
        }
    });
    return form;
}

void ExportDialog::use_layout(const Delivery& delivery) {
    choose(format_, delivery.layout.format);
    choose(number_, delivery.layout.number);
    choose(feedback_, delivery.layout.feedback);
    choose(normalisation_, delivery.layout.normalisation);
    digits_->setValue(delivery.layout.digits);
    order_->setCurrentText(QString::fromStdString(order_text(delivery.layout.order)));
    name_->setText(QString::fromStdString(delivery.name));
    refresh();
}

void ExportDialog::set_folder(const QString& folder) {
    folder_->setText(folder);
}

QString ExportDialog::preview() const {
    return preview_->toPlainText();
}

QString ExportDialog::status() const {
    return status_->text();
}

Expected<Delivery> ExportDialog::delivery() const {
    Delivery delivery;
    delivery.name = name_->text().trimmed().toStdString();
    if (delivery.name.empty()) {
        return refuse("layout name", "is empty", "give a name: it becomes part of the file names");
    }
    delivery.id = fresh_id(Study{}, delivery.name);
    if (channels_->currentIndex() == 0 && session_.channel() != nullptr) {
        delivery.channels = {session_.channel()->id};
    }
    delivery.layout.format = chosen<FileFormat>(format_);
    delivery.layout.number = chosen<NumberType>(number_);
    delivery.layout.feedback = chosen<FeedbackSign>(feedback_);
    delivery.layout.normalisation = chosen<Normalisation>(normalisation_);
    delivery.layout.digits = digits_->value();
    const auto order = order_from_text(order_->currentText().toStdString());
    if (!order) {
        return tl::unexpected(order.error());
    }
    delivery.layout.order = *order;
    if (auto ok = check(delivery.layout); !ok) {
        return tl::unexpected(ok.error());
    }
    return delivery;
}

Expected<std::vector<PlannedFile>> ExportDialog::plan() const {
    const auto wanted = delivery();
    if (!wanted) {
        return tl::unexpected(wanted.error());
    }
    if (folder_->text().trimmed().isEmpty()) {
        return refuse("folder", "is empty", "choose where the files go");
    }
    return plan_delivery(session_.study(), *wanted, folder_->text().trimmed().toStdString(),
                         session_.briefs());
}

void ExportDialog::say(const QString& text, bool problem) {
    status_->setText(text);
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, problem ? theme().not_met : theme().met);
    status_->setPalette(colours);
}

void ExportDialog::refresh() {
    const auto files = plan();
    write_->setEnabled(false);
    keep_->setEnabled(delivery().has_value());
    if (!files) {
        preview_->clear();
        files_->clear();
        say(QStringLiteral("◇ ") + QString::fromStdString(to_text(files.error())), true);
        return;
    }
    preview_->setPlainText(QString::fromStdString(files->front().text));
    QStringList names;
    for (const PlannedFile& file : *files) {
        names << QString::fromStdString(file.path.filename().string());
    }
    const QStringList shown = names.mid(0, 3);
    files_->setText(shown.join("\n")
                    + (names.size() > 3 ? tr("\nand %1 more").arg(names.size() - 3) : QString()));
    const auto there = existing_among(*files);
    const bool blocked = !there.empty() && !replace_->isChecked();
    write_->setEnabled(!blocked);
    if (blocked) {
        say(tr("◇ %1 of these files exist already: allow replacing them, or change the layout name "
               "or folder.")
                .arg(there.size()),
            true);
    } else {
        say(there.empty() ? QString() : tr("%1 existing files will be replaced.").arg(there.size()),
            false);
    }
}

void ExportDialog::write() {
    const auto files = plan();
    if (!files) {
        say(QStringLiteral("◇ ") + QString::fromStdString(to_text(files.error())), true);
        return;
    }
    const auto delivered =
        write_delivery(*files, replace_->isChecked() ? Existing::replace : Existing::refuse);
    if (!delivered) {
        say(QStringLiteral("◇ ") + QString::fromStdString(to_text(delivered.error())), true);
        return;
    }
    QSettings().setValue(folder_key, folder_->text().trimmed());
    Deviation worst;
    for (const DeliveredFile& file : *delivered) {
        worst.greatest_coefficient =
            std::max(worst.greatest_coefficient, file.deviation.greatest_coefficient);
        worst.greatest_db = std::max(worst.greatest_db, file.deviation.greatest_db);
    }
    write_->setEnabled(false); // what is there now is what the controls say
    replace_->setChecked(false);
    write_->setEnabled(false);
    say(tr("● %1 written and read back. Greatest deviation from the design: %2 in a coefficient, "
           "%3 dB in level.")
            .arg(delivered->size() == 1 ? tr("1 file") : tr("%1 files").arg(delivered->size()))
            .arg(worst.greatest_coefficient, 0, 'g', 3)
            .arg(worst.greatest_db, 0, 'g', 3),
        false);
}

void ExportDialog::keep_in_study() {
    const auto kept = delivery();
    if (!kept) {
        return;
    }
    session_.edit(
        tr("Keep delivery %1").arg(QString::fromStdString(kept->name)), [&](Study& study) {
            std::erase_if(study.deliveries, [&](const Delivery& d) { return d.id == kept->id; });
            study.deliveries.push_back(*kept);
        });
    say(tr("● The study now has the delivery “%1”.").arg(QString::fromStdString(kept->name)),
        false);
}

} // namespace syntonon
