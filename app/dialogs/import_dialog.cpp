// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/import_dialog.h"

#include "app/dialogs/dialog_foot.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDate>
#include <QFileInfo>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QPushButton>
#include <algorithm>

namespace syntonon {
namespace {

constexpr double centre_from_hz = 200, centre_to_hz = 5000;

QString facts_of(const ImportedCurve& imported) {
    const Curve& curve = imported.curve;
    const auto [low, high] = std::ranges::minmax_element(curve.magnitude_db);
    QStringList lines;
    lines << QObject::tr("%1 points from %2 to %3, %4 to %5 dB, %6.")
                 .arg(curve.frequency_hz.size())
                 .arg(QString::fromStdString(frequency_text(curve.low_hz(), 4)),
                      QString::fromStdString(frequency_text(curve.high_hz(), 4)),
                      QString::fromStdString(signed_text(*low, 1)),
                      QString::fromStdString(signed_text(*high, 1)),
                      curve.has_phase() ? QObject::tr("with phase") : QObject::tr("without phase"));
    if (imported.decimal_comma) {
        lines << QObject::tr("Commas were read as decimal points.");
    }
    if (imported.kilohertz) {
        lines << QObject::tr("Frequencies were read as kHz.");
    }
    for (const std::string& note : imported.notes) {
        lines << QString::fromStdString(note);
    }
    return lines.join("\n");
}

} // namespace

ImportDialog::ImportDialog(Session& session, const QString& path, UseAs likely, QWidget* parent)
    : QDialog(parent), session_(session), path_(path),
      name_(new QLineEdit(QFileInfo(path).completeBaseName())), unit_(new QComboBox),
      use_(new QComboBox), centre_(new QCheckBox), facts_(new QLabel),
      import_(new QPushButton(tr("Import"))) {
    setWindowTitle(tr("Import a curve"));
    setMinimumWidth(480);
    unit_->addItems({tr("as the file says (Hz if silent)"), tr("Hz"), tr("kHz")});
    centre_->setText(tr("Shift to 0 dB: subtract the average from 200 Hz to 5 kHz"));
    offer_uses(likely);
    facts_->setWordWrap(true);
    facts_->setObjectName("import_facts");
    auto* form = new QFormLayout(this);
    form->setContentsMargins(18, 16, 18, 14);
    form->setVerticalSpacing(10);
    form->addRow(tr("File"), new QLabel(QFileInfo(path).fileName()));
    form->addRow(tr("Holds"), facts_);
    form->addRow(tr("Name"), name_);
    form->addRow(tr("Frequencies in"), unit_);
    form->addRow(QString(), centre_);
    form->addRow(tr("Use as"), use_);
    add_foot(*form, *this, *import_);
    name_->setAccessibleName(tr("Name"));
    unit_->setAccessibleName(tr("Frequencies in"));
    use_->setAccessibleName(tr("Use as"));
    connect(import_, &QPushButton::clicked, this, &ImportDialog::take);
    connect(unit_, &QComboBox::currentIndexChanged, this, &ImportDialog::read);
    read();
}

void ImportDialog::offer_uses(UseAs likely) {
    const auto offer = [this](const QString& text, UseAs use) {
        use_->addItem(text, static_cast<int>(use));
    };
    if (const Channel* channel = session_.channel()) {
        const QString name = QString::fromStdString(channel->name);
        const auto there = channel->measured.size();
        if (there > 0) {
            offer(tr("one more position of %1 (%n there)", nullptr, static_cast<int>(there))
                      .arg(name),
                  UseAs::position);
            offer(tr("the measured curve of %1, in place of what is there").arg(name),
                  UseAs::measured);
        } else {
            offer(tr("the measured curve of %1").arg(name), UseAs::measured);
        }
    }
    offer(tr("nothing yet"), UseAs::nothing);
    use_->setCurrentIndex(std::max(0, use_->findData(static_cast<int>(likely))));
}

void ImportDialog::read() {
    ImportOptions options;
    options.frequency_unit = unit_->currentIndex() == 1   ? FrequencyUnit::hz
                             : unit_->currentIndex() == 2 ? FrequencyUnit::khz
                                                          : FrequencyUnit::automatic;
    auto imported = import_text_file(path_.toStdString(), options);
    import_->setEnabled(imported.has_value());
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, imported ? theme().text : theme().not_met);
    facts_->setPalette(colours);
    if (!imported) {
        imported_.reset();
        facts_->setText(QStringLiteral("◇ ") + QString::fromStdString(to_text(imported.error())));
        return;
    }
    imported_ = std::move(*imported);
    facts_->setText(facts_of(*imported_));
    // Sound pressure levels stand far above the lane; responses around 0 dB do not.
    const auto mean = level_to_subtract();
    centre_->setEnabled(mean.has_value());
    centre_->setChecked(mean && std::abs(*mean) > 12);
}

std::optional<double> ImportDialog::level_to_subtract() const {
    const auto mean = mean_level_db(imported_->curve, centre_from_hz, centre_to_hz);
    return mean ? std::optional(*mean) : std::nullopt;
}

QString ImportDialog::facts() const {
    return facts_->text();
}

void ImportDialog::take() {
    if (!imported_) {
        return;
    }
    Curve curve = imported_->curve;
    curve.name =
        name_->text().trimmed().isEmpty() ? "Curve" : name_->text().trimmed().toStdString();
    if (const auto mean = level_to_subtract(); centre_->isChecked() && mean) {
        for (double& level : curve.magnitude_db) {
            level -= *mean;
        }
    }
    curve.source = tr("%1, %2")
                       .arg(QFileInfo(path_).fileName(),
                            QLocale::c().toString(QDate::currentDate(), "d MMM yyyy"))
                       .toStdString();
    add_curve(session_, std::move(curve), static_cast<UseAs>(use_->currentData().toInt()));
    accept();
}

} // namespace syntonon
