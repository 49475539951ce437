// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/stage_out_dialog.h"

#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/filter/form.h"
#include "core/study/kinds.h"
#include "core/study/stage_file.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QSettings>
#include <QSpinBox>
#include <QToolButton>
#include <array>

namespace syntonon {
namespace {

constexpr auto pattern_key = "stage_file_pattern", stage_folder_key = "stage_file_folder";

struct OutFormat {
    std::optional<TapsFormat> taps; // nothing: parameters
    const char* title;
};
constexpr std::array out_formats = std::to_array<OutFormat>({
    {{}, QT_TR_NOOP("its parameters: a stage for any study")},
    {TapsFormat::lines, QT_TR_NOOP("taps, one a line")},
    {TapsFormat::indexed, QT_TR_NOOP("taps, one a line with its index")},
    {TapsFormat::c_array, QT_TR_NOOP("taps as a C array")},
    {TapsFormat::words, QT_TR_NOOP("taps as hexadecimal words")},
    {TapsFormat::wav, QT_TR_NOOP("taps as WAV, 64-bit floats")},
    {TapsFormat::flac, QT_TR_NOOP("taps as FLAC, 24 bits")},
});

TapValues taps_of(const StageAnalysis* analysis) {
    if (analysis == nullptr || !analysis->filter || analysis->is_waiting) {
        return nullptr;
    }
    const auto* taps = std::get_if<Taps>(&analysis->filter->form());
    if (taps == nullptr) {
        return nullptr;
    }
    return std::make_shared<const std::vector<double>>(taps->values().begin(),
                                                       taps->values().end());
}

} // namespace

StageOutDialog::StageOutDialog(Session& session, QWidget* parent)
    : QDialog(parent), session_(session), stage_(*session.stage()),
      taps_(taps_of(session.stage_analysis())), format_(new QComboBox),
      head_(new QCheckBox(tr("with lines that say study, channel, stage and rate"))),
      bits_(new QSpinBox), fraction_(new QSpinBox),
      pattern_(new QLineEdit(
          QSettings()
              .value(pattern_key, QString::fromUtf8(usual_pattern.data(), usual_pattern.size()))
              .toString())),
      folder_(new QLineEdit(QSettings().value(stage_folder_key, QDir::homePath()).toString())),
      name_(new QLabel), facts_(new QLabel), save_(new QPushButton(tr("Save"))) {
    setWindowTitle(tr("The stage as a file"));
    setMinimumWidth(620);
    const StageAnalysis* analysis = session.stage_analysis();
    file_words_ = file_words(session.study(), *session.channel(), stage_,
                             analysis != nullptr ? analysis->filter.value_or(Filter()) : Filter());
    for (const OutFormat& format : out_formats) {
        if (!format.taps || taps_ != nullptr) {
            format_->addItem(tr(format.title));
        }
    }
    format_->setCurrentIndex(std::holds_alternative<TapsSpec>(*stage_.spec) && taps_ ? 1 : 0);
    head_->setChecked(true);
    bits_->setRange(2, 64);
    bits_->setValue(24);
    bits_->setSuffix(tr(" bits"));
    fraction_->setRange(-1024, 1024);
    fraction_->setValue(23);
    fraction_->setSuffix(tr(" of them a fraction"));
    add_rows();
    connect(format_, &QComboBox::activated, this, &StageOutDialog::show_what_comes);
    connect(pattern_, &QLineEdit::textChanged, this, &StageOutDialog::show_what_comes);
    connect(folder_, &QLineEdit::textChanged, this, &StageOutDialog::show_what_comes);
    connect(save_, &QPushButton::clicked, this, &StageOutDialog::save);
    show_what_comes();
}

void StageOutDialog::add_rows() {
    auto* form = new QFormLayout(this);
    form->setContentsMargins(18, 16, 18, 14);
    form->setVerticalSpacing(10);
    const auto add = [&](const QString& title, QWidget* widget, QWidget* named) {
        named->setAccessibleName(title);
        form->addRow(title, widget);
    };
    form->addRow(tr("Stage"), new QLabel(QString::fromStdString(spoken_name_of(stage_))));
    add(tr("Save"), format_, format_);
    auto* words = new QWidget;
    auto* row = new QHBoxLayout(words);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(bits_);
    row->addWidget(fraction_);
    row->addStretch(1);
    bits_->setAccessibleName(tr("Bits of a word"));
    form->addRow(tr("Words of"), words);
    fraction_->setAccessibleName(tr("Bits of the fraction"));
    form->addRow(QString(), head_);
    add(tr("Named by"), pattern_row(), pattern_);
    add(tr("Folder"), folder_row(), folder_);
    form->addRow(tr("File"), name_);
    form->addRow(QString(), facts_);
    name_->setFont(text_font(12));
    facts_->setWordWrap(true);
    facts_->setMinimumHeight(34);
    facts_->setAlignment(Qt::AlignTop);
    auto* buttons = new QHBoxLayout;
    auto* cancel = new QPushButton(tr("Cancel"));
    buttons->addStretch(1);
    buttons->addWidget(save_);
    buttons->addWidget(cancel);
    form->addRow(buttons);
    save_->setDefault(true);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
}

// The pattern, and the words that may stand in it with what they say of this stage.
QWidget* StageOutDialog::pattern_row() {
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* words = new QToolButton;
    words->setText(tr("Add a word"));
    words->setPopupMode(QToolButton::InstantPopup);
    words->setMenu(new QMenu(words));
    for (const FileWord& word : file_words_) {
        const QString name = QString::fromUtf8(word.name.data(), qsizetype(word.name.size()));
        const QString says = QString::fromStdString(word.text);
        words->menu()->addAction(says.isEmpty() ? tr("%1 (this stage has none)").arg(name)
                                                : name + "   " + says,
                                 this, [this, name] { pattern_->insert("{" + name + "}"); });
    }
    words->menu()->addSeparator();
    words->menu()->addAction(tr("Back to the usual pattern"), this, [this] {
        pattern_->setText(QString::fromUtf8(usual_pattern.data(), usual_pattern.size()));
    });
    layout->addWidget(pattern_, 1);
    layout->addWidget(words);
    return row;
}

QWidget* StageOutDialog::folder_row() {
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* choose = new QPushButton(tr("Choose…"));
    connect(choose, &QPushButton::clicked, this, [this] {
        const QString chosen =
            QFileDialog::getExistingDirectory(this, tr("Folder"), folder_->text());
        if (!chosen.isEmpty()) {
            folder_->setText(chosen);
        }
    });
    layout->addWidget(folder_, 1);
    layout->addWidget(choose);
    return row;
}

std::optional<TapsFormat> StageOutDialog::taps_format() const {
    return out_formats.at(static_cast<std::size_t>(format_->currentIndex())).taps;
}

QString StageOutDialog::path() const {
    const auto name = file_name(pattern_->text().toStdString(), file_words_);
    if (!name) {
        return {};
    }
    const auto format = taps_format();
    const std::string_view ending = format ? extension_of(*format) : stage_file_ending;
    return QDir(folder_->text()).filePath(QString::fromStdString(*name + std::string(ending)));
}

QString StageOutDialog::facts() const {
    return facts_->text();
}

void StageOutDialog::show_what_comes() {
    const auto format = taps_format();
    const bool is_text = format && *format != TapsFormat::wav && *format != TapsFormat::flac;
    head_->setEnabled(is_text);
    bits_->setEnabled(format == TapsFormat::words);
    fraction_->setEnabled(format == TapsFormat::words);
    const auto name = file_name(pattern_->text().toStdString(), file_words_);
    const QString to = path();
    const bool exists = !to.isEmpty() && QFileInfo::exists(to);
    save_->setEnabled(name.has_value());
    save_->setText(exists ? tr("Replace") : tr("Save"));
    name_->setText(QFileInfo(to).fileName());
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, name ? theme().soft : theme().not_met);
    facts_->setPalette(colours);
    facts_->setText(!name    ? QString::fromStdString(to_text(name.error()))
                    : exists ? tr("A file of this name is there already and will be replaced.")
                             : QString());
}

TapsFileWriting StageOutDialog::writing() const {
    TapsFileWriting writing{
        *taps_format(), {}, {bits_->value(), fraction_->value()}, session_.study().sample_rate_hz};
    if (head_->isChecked()) {
        writing.head = {"study: " + session_.study().name, "channel: " + session_.channel()->name,
                        "stage: " + spoken_name_of(stage_),
                        "sample_rate_hz: " + shortest_text(session_.study().sample_rate_hz),
                        "taps: " + std::to_string(taps_->size())};
    }
    return writing;
}

void StageOutDialog::save() {
    const QString to = path();
    QDir().mkpath(QFileInfo(to).path());
    const auto said = [&](const auto& done) {
        if (!done) {
            QPalette colours = palette();
            colours.setColor(QPalette::WindowText, theme().not_met);
            facts_->setPalette(colours);
            facts_->setText(QString::fromStdString(to_text(done.error())));
        }
        return done.has_value();
    };
    if (!taps_format()) {
        if (!said(save_stage(stage_, session_.study().sample_rate_hz, to.toStdString()))) {
            return;
        }
        words_ = tr("Saved as %1").arg(to);
    } else {
        const auto written = write_taps(to.toStdString(), *taps_, writing());
        if (!said(written)) {
            return;
        }
        words_ = written->greatest_deviation == 0
                     ? tr("Saved as %1; read back, every tap is the same").arg(to)
                     : tr("Saved as %1; read back, a tap is off by %2 at most")
                           .arg(to)
                           .arg(written->greatest_deviation, 0, 'g', 3);
    }
    QSettings().setValue(pattern_key, pattern_->text());
    QSettings().setValue(stage_folder_key, folder_->text());
    accept();
}

} // namespace syntonon
