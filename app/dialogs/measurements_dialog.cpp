// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/measurements_dialog.h"

#include "app/model/import_measurements.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDate>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLocale>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

namespace syntonon {
namespace {

std::vector<std::string> channel_names(const Study& study) {
    std::vector<std::string> names;
    for (const auto& channel : study.channels) {
        names.push_back(channel->name);
    }
    return names;
}

std::string base_name(const std::string& path) {
    return QFileInfo(QString::fromStdString(path)).completeBaseName().toStdString();
}

// The file stands beside it already.
std::string within_file(const MeasuredFile& made) {
    Problem problem = *made.problem;
    const std::string path = made.path.string();
    if (problem.place.starts_with(path)) {
        problem.place.erase(0, path.size());
        problem.place.erase(0, problem.place.find_first_not_of(": "));
    }
    return to_text(problem);
}

QString rule_text(NameRule rule) {
    switch (rule) {
    case NameRule::channel_first:
        return QObject::tr(
            "What stands before the first of  , ; - _  and blank, or a known channel's "
            "name, is the channel; the rest is the position.");
    case NameRule::position_first:
        return QObject::tr(
            "What stands behind the last of  , ; - _  and blank, or a known channel's "
            "name, is the channel; the rest is the position.");
    case NameRule::channel_only:
        return MeasurementsDialog::tr("The whole name is the channel, of one position.");
    case NameRule::position_only:
        break;
    }
    return QObject::tr("The whole name is the position; all are of the selected channel.");
}

} // namespace

MeasurementsDialog::MeasurementsDialog(Session& session, const MeasuredFiles& files,
                                       const SweepPlan& sweep, QWidget* parent)
    : QDialog(parent), session_(session), channel_(files.channel.toStdString()),
      position_(files.position.toStdString()), sweep_(sweep), table_(new QTableWidget),
      rule_(new QComboBox), sounds_(new QComboBox), rate_(new QComboBox), reference_(new QComboBox),
      gate_(new QComboBox), microphone_(new QComboBox),
      replace_(new QCheckBox(tr("In place of what these channels have measured"))),
      beside_(new QCheckBox(tr("Keep impulse responses in a folder beside the study"))),
      rule_text_(new QLabel), summary_(new QLabel), import_(new QPushButton(tr("Import"))) {
    setWindowTitle(tr("Import measurements"));
    resize(860, 560);
    for (const QString& path : files.paths) {
        paths_.push_back(path.toStdString());
    }
    std::ranges::sort(paths_, comes_before);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(18, 16, 18, 14);
    column->addWidget(choices(files.reference_channel.value_or(0)));
    set_up_rows(*table_, {tr("file"), tr("channel"), tr("position"), tr("found")});
    table_->horizontalHeader()->setSectionResizeMode(found, QHeaderView::Stretch);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setAccessibleName(tr("Positions found"));
    table_->setToolTip(
        tr("A double click on channel or position corrects it; the tick leaves a row "
           "out"));
    column->addWidget(table_, 1);
    summary_->setWordWrap(true);
    column->addWidget(summary_);
    auto* buttons = new QHBoxLayout;
    auto* cancel = new QPushButton(tr("Cancel"));
    buttons->addStretch(1);
    buttons->addWidget(import_);
    buttons->addWidget(cancel);
    column->addLayout(buttons);
    import_->setDefault(true);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    if (files.sweep) {
        sounds_->setCurrentIndex(sounds_->findData(static_cast<int>(SoundHolds::sweep_recordings)));
    }
    follow();
    read();
}

// So many channels at least can be the reference.
void MeasurementsDialog::fill_choices(int reference) {
    rule_->addItem(tr("channel, then position"), static_cast<int>(NameRule::channel_first));
    rule_->addItem(tr("position, then channel"), static_cast<int>(NameRule::position_first));
    rule_->addItem(tr("position only"), static_cast<int>(NameRule::position_only));
    rule_->addItem(tr("channel only"), static_cast<int>(NameRule::channel_only));
    sounds_->addItem(tr("what each looks like"), -1);
    sounds_->addItem(tr("impulse responses"), static_cast<int>(SoundHolds::impulse_responses));
    sounds_->addItem(tr("recorded sweeps"), static_cast<int>(SoundHolds::sweep_recordings));
    rate_->addItem(tr("as the files say"));
    rate_->addItem(tr("as each sweep tells"));
    reference_->addItem(tr("none"), 0);
    constexpr int usual = 4;
    for (int number = 1; number <= std::max(usual, reference); ++number) {
        reference_->addItem(tr("channel %1").arg(number), number);
    }
    reference_->setCurrentIndex(reference); // 0: none
    gate_->addItem(tr("all of it"), QString());
    for (const NamedGate& gate : session_.study().gates) {
        gate_->addItem(QString::fromStdString(gate.name), QString::fromStdString(gate.id));
    }
    gate_->setCurrentIndex(gate_->count() > 1 ? 1 : 0);
    microphone_->addItem(tr("none"), QString());
    for (const auto& microphone : session_.study().microphones) {
        microphone_->addItem(QString::fromStdString(microphone->name),
                             QString::fromStdString(microphone->id));
    }
}

void MeasurementsDialog::name_choices() {
    rule_->setAccessibleName(tr("File names say"));
    sounds_->setAccessibleName(tr("Sounds are"));
    sounds_->setToolTip(
        tr("Recorded sweeps are deconvolved with the sweep of the Sweep page: %1 to "
           "%2, %3 s")
            .arg(shown_words(frequency_text(sweep_.from_hz)),
                 shown_words(frequency_text(sweep_.to_hz)), shown_number(sweep_.length_s, 3)));
    rate_->setAccessibleName(tr("Rate of recordings"));
    rate_->setToolTip(tr("A recording whose file says another rate than it was made at is told by "
                         "the pace of its sweep"));
    reference_->setAccessibleName(tr("Reference channel"));
    reference_->setToolTip(
        tr("Of recordings: the channel that holds what was played (a loopback)"));
    gate_->setAccessibleName(tr("Gate"));
    microphone_->setAccessibleName(tr("Microphone"));
}

QWidget* MeasurementsDialog::choices(int reference) {
    fill_choices(reference);
    name_choices();
    auto* box = new QWidget;
    auto* form = new QFormLayout(box);
    form->setContentsMargins(0, 0, 0, 6);
    beside_->setChecked(session_.study().impulses_beside);
    rule_text_->setWordWrap(true);
    rule_text_->setFont(text_font(11));
    auto* names = new QHBoxLayout;
    names->addWidget(rule_);
    names->addWidget(rule_text_, 1);
    form->addRow(tr("File names say"), names);
    auto* sound = new QHBoxLayout;
    sound->addWidget(sounds_);
    sound->addWidget(new QLabel(tr("rate")));
    sound->addWidget(rate_);
    sound->addWidget(new QLabel(tr("reference")));
    sound->addWidget(reference_);
    sound->addWidget(new QLabel(tr("gate")));
    sound->addWidget(gate_);
    sound->addWidget(new QLabel(tr("microphone")));
    sound->addWidget(microphone_);
    sound->addStretch(1);
    form->addRow(tr("Sounds are"), sound);
    auto* ticks = new QHBoxLayout;
    ticks->addWidget(replace_);
    ticks->addWidget(beside_);
    ticks->addStretch(1);
    form->addRow(QString(), ticks);
    return box;
}

void MeasurementsDialog::follow() {
    connect(rule_, &QComboBox::currentIndexChanged, this, [this] {
        rule_chosen_ = rule_chosen_ || !filling_;
        name_rows();
    });
    connect(sounds_, &QComboBox::currentIndexChanged, this, &MeasurementsDialog::read);
    connect(rate_, &QComboBox::currentIndexChanged, this, &MeasurementsDialog::read);
    connect(reference_, &QComboBox::currentIndexChanged, this, &MeasurementsDialog::read);
    connect(import_, &QPushButton::clicked, this, &MeasurementsDialog::import_all);
    connect(table_, &QTableWidget::cellChanged, this, &MeasurementsDialog::edit_row);
}

void MeasurementsDialog::read() {
    MeasuredFileOptions options;
    options.sweep = sweep_;
    if (const int sounds = sounds_->currentData().toInt(); sounds >= 0) {
        options.sounds = static_cast<SoundHolds>(sounds);
    }
    options.rate_by_sweep = rate_->currentIndex() == 1;
    if (const int reference = reference_->currentData().toInt(); reference > 0) {
        options.reference_channel = reference;
    }
    files_.assign(paths_.size(), std::nullopt);
    // What was said of a row holds for it however its file is read.
    for (Row& row : rows_) {
        std::erase_if(known_, [&](const Row& one) { return is_same(one, row); });
        known_.push_back(std::move(row));
    }
    rows_.clear();
    reading_.begin(
        paths_.size(),
        [paths = paths_, options](std::size_t i, const Watch&) {
            return read_measured_file(paths[i], options);
        },
        [this](std::size_t i, MeasuredFile made) { take(i, std::move(made)); });
    name_rows();
}

void MeasurementsDialog::take(std::size_t index, MeasuredFile made) {
    files_[index] = std::move(made);
    std::vector<Row> before = std::exchange(rows_, {});
    before.insert(before.end(), known_.begin(), known_.end());
    for (std::size_t i = 0; i < files_.size(); ++i) {
        if (!files_[i]) {
            continue;
        }
        if (files_[i]->problem) {
            rows_.push_back({i, {}, "", "", false, false});
        }
        for (std::size_t entry = 0; entry < files_[i]->entries.size(); ++entry) {
            // What was corrected while others were still being read stays.
            const auto known = std::ranges::find_if(
                before, [&](const Row& row) { return row.file == i && row.entry == entry; });
            rows_.push_back(known != before.end() ? *known : Row{i, entry, "", "", false, true});
        }
    }
    name_rows();
}

void MeasurementsDialog::name_rows() {
    const std::vector<std::string> channels = channel_names(session_.study());
    if (!rule_chosen_) {
        std::vector<std::string> names;
        std::ranges::transform(paths_, std::back_inserter(names), base_name);
        filling_ = true;
        rule_->setCurrentIndex(rule_->findData(static_cast<int>(likely_rule(names, channels))));
        filling_ = false;
    }
    const auto rule = static_cast<NameRule>(rule_->currentData().toInt());
    rule_text_->setText(rule_text(rule));
    std::vector<std::string> taken;
    for (Row& row : rows_) {
        const std::string& path = paths_[row.file];
        if (!row.by_hand) {
            const PositionName name = position_.empty()
                                          ? position_name(base_name(path), rule, channels)
                                          : PositionName{channel_, position_};
            const Channel* selected = session_.channel();
            const bool of_selected =
                position_.empty() && rule == NameRule::position_only && selected != nullptr;
            row.channel = of_selected ? selected->name : name.channel;
            row.position = name.position;
            if (row.entry && files_[row.file]->entries.size() > 1) {
                row.position += " " + std::to_string(files_[row.file]->entries[*row.entry].channel);
            }
        }
        const std::string whole = row.channel + "\n" + row.position;
        const std::string free = free_name(whole, taken);
        row.position += free.substr(whole.size());
        taken.push_back(free);
    }
    fill();
}

QString MeasurementsDialog::found_text(const Row& row) const {
    const MeasuredFile& made = *files_[row.file];
    if (made.problem) {
        return QStringLiteral("◇ ") + QString::fromStdString(within_file(made));
    }
    const MeasuredEntry& entry = made.entries[*row.entry];
    QStringList words;
    for (const Doubt& doubt : entry.doubts) {
        words << QStringLiteral("◇ ") + QString::fromStdString(doubt.text + ": " + doubt.way_out);
    }
    const Curve& curve = entry.curve;
    if (curve.origin) {
        const ImpulseResponse& impulse = curve.origin->measured->impulse;
        words << tr("%1 of %2 s at %3, arrival %4 ms")
                     .arg(made.sound == SoundHolds::sweep_recordings ? tr("sweep, response")
                                                                     : tr("impulse response"),
                          shown_number(static_cast<double>(impulse.samples.size())
                                           / impulse.sample_rate_hz,
                                       3),
                          shown_words(frequency_text(impulse.sample_rate_hz)),
                          fixed_number(1e3 * curve.delay_s, 2));
        if (entry.signal_to_noise_db) {
            words << tr("%1 dB above noise").arg(std::lround(*entry.signal_to_noise_db));
        }
    } else {
        words << tr("response of %1 points, %2 to %3, %4")
                     .arg(curve.frequency_hz.size())
                     .arg(shown_words(frequency_text(curve.low_hz())),
                          shown_words(frequency_text(curve.high_hz())),
                          curve.has_phase() ? tr("with phase") : tr("without phase"));
    }
    for (const std::string& note : entry.notes) {
        words << QString::fromStdString(note);
    }
    return words.join(QStringLiteral(" · "));
}

bool MeasurementsDialog::is_doubtful(const Row& row) const {
    return !row.entry || !files_[row.file]->entries[*row.entry].doubts.empty();
}

void MeasurementsDialog::fill_row(int at) {
    const Row& row = rows_[static_cast<std::size_t>(at)];
    const QString text[] = {QFileInfo(QString::fromStdString(paths_[row.file])).fileName(),
                            row.entry ? QString::fromStdString(row.channel) : QString(),
                            row.entry ? QString::fromStdString(row.position) : QString(),
                            found_text(row)};
    for (int column = 0; column < table_->columnCount(); ++column) {
        auto* item = new QTableWidgetItem(text[column]);
        item->setToolTip(column == channel && row.entry && row.channel.empty()
                             ? tr("Of no channel: it is kept in the study")
                             : text[column]);
        const bool editable = row.entry && (column == channel || column == position);
        Qt::ItemFlags flags = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
        if (editable) {
            flags |= Qt::ItemIsEditable;
        }
        if (column == file && row.entry) {
            flags |= Qt::ItemIsUserCheckable;
            item->setCheckState(row.taken ? Qt::Checked : Qt::Unchecked);
        }
        item->setFlags(flags);
        if (column == found && is_doubtful(row)) {
            item->setForeground(theme().not_met);
        }
        table_->setItem(at, column, item);
    }
}

void MeasurementsDialog::fill() {
    filling_ = true;
    table_->setRowCount(static_cast<int>(rows_.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        fill_row(row);
    }
    constexpr int widest = 190;
    for (const int column : {file, channel, position}) {
        table_->resizeColumnToContents(column);
        table_->setColumnWidth(column, std::min(widest, table_->columnWidth(column) + 10));
    }
    filling_ = false;
    show_summary();
}

void MeasurementsDialog::show_summary() {
    std::vector<std::string> fresh;
    const std::vector<std::string> known = channel_names(session_.study());
    qint64 good = 0, refused = 0, doubtful = 0;
    for (const Row& row : rows_) {
        refused += row.entry ? 0 : 1;
        if (!row.entry || !row.taken) {
            continue;
        }
        ++good;
        doubtful += is_doubtful(row) ? 1 : 0;
        const bool is_new = !row.channel.empty()
                            && std::ranges::find(known, row.channel) == known.end()
                            && std::ranges::find(fresh, row.channel) == fresh.end();
        if (is_new) {
            fresh.push_back(row.channel);
        }
    }
    QStringList words;
    words << counted(good, "position", "positions");
    if (!fresh.empty()) {
        QStringList names;
        for (const std::string& name : fresh) {
            names << QString::fromStdString(name);
        }
        words << tr("new: %1 (%2)")
                     .arg(counted(names.size(), "channel", "channels"),
                          names.join(QStringLiteral(", ")));
    }
    if (doubtful > 0) {
        words << tr("%1 doubtful").arg(doubtful);
    }
    if (refused > 0) {
        words << tr("%1 refused").arg(counted(refused, "file", "files"));
    }
    if (reading_.is_busy()) {
        words << tr("%1 of %2 read").arg(reading_.done()).arg(reading_.count());
    }
    summary_->setText(words.join(QStringLiteral(" · ")));
    import_->setEnabled(good > 0 && !reading_.is_busy());
}

QString MeasurementsDialog::summary() const {
    return summary_->text();
}

void MeasurementsDialog::edit_row(int at, int column) {
    if (filling_) {
        return;
    }
    Row& row = rows_[static_cast<std::size_t>(at)];
    const QTableWidgetItem* item = table_->item(at, column);
    if (column == file) {
        row.taken = item->checkState() == Qt::Checked;
        show_summary();
        return;
    }
    const std::string typed = item->text().trimmed().toStdString();
    row.by_hand = true;
    if (column == channel) {
        row.channel = typed;
    } else if (!typed.empty()) {
        row.position = typed;
    }
    // Later than the table's signal: its editor is still open.
    QMetaObject::invokeMethod(this, &MeasurementsDialog::name_rows, Qt::QueuedConnection);
}

std::vector<PositionName> MeasurementsDialog::left_out() const {
    std::vector<PositionName> names;
    for (const Row& row : rows_) {
        if (row.entry && !row.taken) {
            names.push_back({row.channel, row.position});
        }
    }
    return names;
}

void MeasurementsDialog::import_all() {
    std::vector<NewPosition> positions;
    for (const Row& row : rows_) {
        if (!row.entry || !row.taken) {
            continue;
        }
        Curve curve = files_[row.file]->entries[*row.entry].curve;
        curve.source = tr("%1, %2")
                           .arg(QFileInfo(QString::fromStdString(paths_[row.file])).fileName(),
                                QLocale::c().toString(QDate::currentDate(), "d MMM yyyy"))
                           .toStdString();
        positions.push_back({row.channel, row.position, std::move(curve)});
    }
    const ImportWishes wishes{gate_->currentData().toString().toStdString(),
                              microphone_->currentData().toString().toStdString(),
                              replace_->isChecked(), beside_->isChecked()};
    if (const auto done = import_measurements(session_, std::move(positions), wishes); !done) {
        summary_->setText(QStringLiteral("◇ ") + QString::fromStdString(to_text(done.error())));
        return;
    }
    accept();
}

} // namespace syntonon
