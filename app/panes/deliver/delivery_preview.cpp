// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/delivery_preview.h"

#include "app/widgets/said.h"
#include "app/widgets/theme.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QFontDatabase>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

namespace syntonon {
namespace {

constexpr std::size_t most_shown = 200'000; // characters; nobody reads more

QString shown_part(const std::string& text) {
    const QString all = QString::fromStdString(text.substr(0, most_shown));
    return text.size() > most_shown
               ? all + QObject::tr("\n… and %1 characters more").arg(text.size() - most_shown)
               : all;
}

} // namespace

DeliveryPreview::DeliveryPreview(QWidget* parent)
    : QWidget(parent), title_(new QLabel), status_(new QLabel), files_(new QComboBox),
      preview_(new QPlainTextEdit), folder_(new QLineEdit), replace_(new QCheckBox),
      write_(new QPushButton(tr("Write files"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 10, 16, 12);
    column->setSpacing(8);
    auto* head = new QHBoxLayout;
    title_->setFont(text_font(13, QFont::DemiBold));
    title_->setMinimumWidth(0);
    title_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    head->addWidget(title_, 1);
    files_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    files_->setMinimumContentsLength(18);
    files_->setAccessibleName(tr("File to preview"));
    head->addWidget(files_, 2);
    column->addLayout(head);
    preview_->setReadOnly(true);
    preview_->setLineWrapMode(QPlainTextEdit::NoWrap);
    QFont fixed = QFontDatabase::systemFont(QFontDatabase::FixedFont);
    fixed.setPixelSize(11);
    preview_->setFont(fixed);
    preview_->setAccessibleName(tr("Preview of the file"));
    column->addWidget(preview_, 1);
    column->addWidget(foot());
    connect(files_, &QComboBox::currentIndexChanged, this, [this](int i) {
        preview_->setPlainText(i >= 0 ? texts_.at(static_cast<std::size_t>(i)) : QString());
    });
    connect(folder_, &QLineEdit::textChanged, this, &DeliveryPreview::folder_changed);
    connect(replace_, &QCheckBox::toggled, this, &DeliveryPreview::permission_changed);
    connect(write_, &QPushButton::clicked, this, &DeliveryPreview::write_asked_for);
}

QWidget* DeliveryPreview::foot() {
    auto* foot = new QWidget;
    auto* column = new QVBoxLayout(foot);
    column->setContentsMargins(0, 0, 0, 0);
    auto* row = new QHBoxLayout;
    auto* caption = new QLabel(tr("Folder"));
    caption->setBuddy(folder_);
    folder_->setAccessibleName(tr("Folder"));
    auto* browse = new QPushButton(tr("Choose…"));
    row->addWidget(caption);
    row->addWidget(folder_, 1);
    row->addWidget(browse);
    column->addLayout(row);
    auto* act = new QHBoxLayout;
    replace_->setText(tr("Replace files that exist"));
    act->addWidget(replace_, 1);
    act->addWidget(write_);
    column->addLayout(act);
    status_->setWordWrap(true);
    status_->setObjectName("delivery_status");
    status_->setMinimumHeight(32);
    status_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    column->addWidget(status_);
    connect(browse, &QPushButton::clicked, this, [this] {
        if (const QString folder = QFileDialog::getExistingDirectory(
                this, tr("Folder for the files"), folder_->text());
            !folder.isEmpty()) {
            folder_->setText(folder);
        }
    });
    return foot;
}

int DeliveryPreview::first_of_preferred() const {
    const auto found = std::ranges::find(channels_, preferred_);
    return found != channels_.end() ? static_cast<int>(found - channels_.begin()) : 0;
}

void DeliveryPreview::prefer_channel(const std::string& channel) {
    if (preferred_ != channel) {
        preferred_ = channel;
        if (files_->count() > 0) {
            files_->setCurrentIndex(first_of_preferred());
        }
    }
}

void DeliveryPreview::show_plan(const QString& name,
                                const Expected<std::vector<PlannedFile>>& plan) {
    title_->setText(name);
    title_->setToolTip(name);
    const QString before = files_->currentText();
    QStringList names;
    texts_.clear();
    channels_.clear();
    if (plan) {
        for (const PlannedFile& file : *plan) {
            names << QString::fromStdString(file.path.filename().string());
            texts_.push_back(shown_part(file.text));
            channels_.push_back(file.channel);
        }
    }
    const QSignalBlocker blocker(files_);
    files_->clear();
    files_->addItems(names);
    const auto same = static_cast<int>(names.indexOf(before));
    files_->setCurrentIndex(same >= 0 ? same : first_of_preferred());
    files_->setEnabled(names.size() > 1);
    const int shown = files_->currentIndex();
    const QString text = shown >= 0 ? texts_.at(static_cast<std::size_t>(shown)) : QString();
    if (text != preview_->toPlainText()) {
        preview_->setPlainText(text);
    }
}

void DeliveryPreview::say(const QString& words, bool is_problem) {
    say_on(*status_, words, is_problem, words.startsWith(u'●') ? theme().met : theme().soft);
}

void DeliveryPreview::show_outlook(const QString& words, bool blocked) {
    write_->setEnabled(!blocked);
    say(words, blocked && words.startsWith(u'◇'));
}

QString DeliveryPreview::folder() const {
    return folder_->text().trimmed();
}

void DeliveryPreview::set_folder(const QString& folder) {
    const QSignalBlocker blocker(folder_);
    folder_->setText(folder);
}

bool DeliveryPreview::may_replace() const {
    return replace_->isChecked();
}

void DeliveryPreview::forget_permission() {
    const QSignalBlocker blocker(replace_);
    replace_->setChecked(false);
}

QString DeliveryPreview::text() const {
    return preview_->toPlainText();
}

QString DeliveryPreview::status() const {
    return status_->text();
}

} // namespace syntonon
