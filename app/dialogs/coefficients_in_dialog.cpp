// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/coefficients_in_dialog.h"

#include "app/dialogs/dialog_foot.h"
#include "app/model/stage_commands.h"
#include "app/plot/level_plot.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/filter/grid.h"
#include "core/study/delivery_budget.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <optional>
#include <utility>
#include <vector>

namespace syntonon {
namespace {

constexpr double low_hz = 10;
constexpr std::size_t drawn_points = 400;
constexpr std::size_t quick_bytes = 40'000; // read within some 20 ms

QString hertz(double hz) {
    return QString::fromStdString(frequency_text(hz, 6));
}

FeedbackSign other(FeedbackSign sign) {
    return sign == FeedbackSign::added ? FeedbackSign::subtracted : FeedbackSign::added;
}

QString words_of(FeedbackSign sign) {
    return sign == FeedbackSign::added ? tr("a’s added") : tr("a’s subtracted");
}

bool has_signs(const FoundCoefficients& found) {
    return found.sign.radius > 0 || found.sign.other_radius > 0;
}

// "12 sections", "a fraction of order 4", "512 taps, late by 32 samples".
QString what_is_there(const FoundCoefficients& found) {
    QStringList parts;
    if (found.roots) {
        parts << tr("%1 zeros and %2 poles")
                     .arg(found.roots->zeros.size())
                     .arg(found.roots->poles.size());
    }
    const auto count = static_cast<qint64>(found.fractions.size());
    if (count > 0 && found.as == CoefficientsAs::sections) {
        parts << counted(count, "section", "sections");
    } else if (count > 0) {
        std::size_t order = 0;
        for (const Coefficients& f : found.fractions) {
            order = std::max({order, f.numerator.size() - 1, f.denominator.size() - 1});
        }
        parts << tr("%1 of order %2").arg(counted(count, "fraction", "fractions")).arg(order);
    }
    if (!found.taps.empty()) {
        double sum = 0;
        for (const double tap : found.taps) {
            sum += tap;
        }
        parts << tr("%1, their sum %2")
                     .arg(counted(static_cast<qint64>(found.taps.size()), "tap", "taps"),
                          shown_number(sum, 5));
    }
    if (found.delay_samples > 0) {
        parts << tr("a delay of %1")
                     .arg(counted(static_cast<qint64>(found.delay_samples), "sample", "samples"));
    }
    return parts.isEmpty() ? tr("Nothing that filters.") : parts.join(tr(" and ")) + ".";
}

} // namespace

CoefficientsInDialog::CoefficientsInDialog(Session& session, std::string text, const QString& from,
                                           const QString& name, QWidget* parent)
    : QDialog(parent), session_(session),
      text_(std::make_shared<const std::string>(std::move(text))), name_(name),
      form_(new QFormLayout(this)), as_(new QComboBox), order_(new QComboBox), sign_(new QComboBox),
      words_(new QComboBox), facts_(new QLabel), doubt_(new QLabel), plot_(new LevelPlot),
      turn_(new QPushButton), take_(new QPushButton(tr("Take"))) {
    setWindowTitle(tr("Coefficients from elsewhere"));
    setMinimumWidth(640);
    offer_choices();
    build(from);
    read();
}

void CoefficientsInDialog::offer_choices() {
    as_->addItems(
        {tr("as recognised"), tr("sections, one after the other"), tr("b and a"), tr("taps")});
    sign_->addItems({tr("as recognised"), tr("subtracted: y = b x … − a y′ …"),
                     tr("added: y = b x … + a y′ …")});
    order_->setEditable(true);
    order_->addItems({tr("as recognised"), "b0 b1 b2 a1 a2", "b0 b1 b2 a0 a1 a2", "a1 a2 b0 b1 b2",
                      "a0 a1 a2 b0 b1 b2", "b2 b1 b0 a2 a1", "gain b1 b2 a1 a2"});
    words_->setEditable(true);
    words_->addItem(tr("as recognised"));
    for (const Processor* processor : processors_of(session_.study())) {
        words_->addItem(text_of(processor->name), text_of(processor->id));
    }
    words_->addItems({"Q1.15", "Q2.14", "Q1.31", "Q2.30", "float32"});
    for (QComboBox* box : {order_, words_}) {
        box->setInsertPolicy(QComboBox::NoInsert);
        box->setCompleter(nullptr);
    }
    order_->setToolTip(tr("The order of a section’s numbers, also with a0 or a gain among them"));
    words_->setToolTip(
        tr("A processor, whose order and sign hold, too; or a word: Q4.20, float32"));
    for (QComboBox* box : {as_, sign_}) {
        connect(box, &QComboBox::activated, this, &CoefficientsInDialog::read);
    }
    for (QComboBox* box : {order_, words_}) {
        connect(box, &QComboBox::currentTextChanged, this, &CoefficientsInDialog::read);
    }
}

void CoefficientsInDialog::build(const QString& from) {
    form_->setContentsMargins(18, 16, 18, 14);
    form_->setVerticalSpacing(8);
    form_->addRow(tr("From"), new QLabel(from));
    const auto ask = [this](const QString& title, QWidget* widget) {
        widget->setAccessibleName(title);
        form_->addRow(title, widget);
    };
    ask(tr("Take it as"), as_);
    ask(tr("A section’s order"), order_);
    ask(tr("The a’s are"), sign_);
    ask(tr("Words of"), words_);
    facts_->setWordWrap(true);
    facts_->setMinimumHeight(4 * facts_->fontMetrics().lineSpacing());
    facts_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    form_->addRow(tr("Holds"), facts_);
    form_->addRow(QString(), doubt_row());
    plot_->setMinimumHeight(210);
    form_->addRow(plot_);
    add_foot(*form_, *this, *take_);
    connect(take_, &QPushButton::clicked, this, &CoefficientsInDialog::take);
}

QWidget* CoefficientsInDialog::doubt_row() {
    auto* widget = new QWidget;
    auto* row = new QHBoxLayout(widget);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(doubt_, 1);
    row->addWidget(turn_);
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, theme().not_met);
    doubt_->setPalette(colours);
    doubt_->setWordWrap(true);
    connect(turn_, &QPushButton::clicked, this, &CoefficientsInDialog::turn_sign);
    return widget;
}

Expected<void> CoefficientsInDialog::put_words(CoefficientReading& reading) const {
    const QString text = words_->currentText().trimmed();
    if (text.isEmpty() || text == words_->itemText(0)) {
        return {};
    }
    const int item = words_->findText(text);
    const QString id = item > 0 ? words_->itemData(item).toString() : QString();
    if (const Processor* processor =
            id.isEmpty() ? nullptr : processor_of(session_.study(), id.toStdString())) {
        reading = reading_for(*processor);
        return {};
    }
    return word_from_text(text.toStdString()).map([&](const Word& word) {
        reading.words = reading.tap_words = HeldWord{word};
    });
}

Expected<CoefficientReading> CoefficientsInDialog::reading() const {
    CoefficientReading reading;
    if (auto ok = put_words(reading); !ok) {
        return tl::unexpected(ok.error());
    }
    const QString order = order_->currentText().trimmed();
    if (!order.isEmpty() && order != order_->itemText(0)) {
        auto terms = order_from_text(order.toStdString());
        if (!terms) {
            return tl::unexpected(terms.error());
        }
        reading.order = std::move(*terms);
    }
    if (as_->currentIndex() > 0) {
        reading.as = all_coefficients_as[static_cast<std::size_t>(as_->currentIndex() - 1)];
    }
    if (sign_->currentIndex() > 0) {
        reading.feedback =
            sign_->currentIndex() == 1 ? FeedbackSign::subtracted : FeedbackSign::added;
    }
    return reading;
}

// What was found and its levels at these frequencies; also with the other sign, where either may be
// meant, so that one sees which.
struct CoefficientsInDialog::Read {
    FoundCoefficients found;
    std::vector<double> hz, db;
    std::optional<std::vector<double>> turned_db;

    static Expected<Read> from(const std::string& text, const CoefficientReading& said,
                               double rate_hz);
};

Expected<CoefficientsInDialog::Read>
CoefficientsInDialog::Read::from(const std::string& text, const CoefficientReading& said,
                                 double rate_hz) {
    const Axis axis{rate_hz};
    const auto grid = FrequencyGrid::logarithmic(low_hz, axis.end_hz(), drawn_points, axis);
    auto found = found_coefficients(text, said);
    if (!found || !grid) {
        return tl::unexpected(!found ? found.error() : grid.error());
    }
    if (chain_of(*found, "").empty()) {
        return refuse("", "nothing that filters is there", "choose another file");
    }
    const auto db_of = [&](const FoundCoefficients& some) {
        return filter_of(some, axis).map([&](const Filter& filter) {
            return filter.magnitude_db(*grid);
        });
    };
    auto db = db_of(*found);
    if (!db) {
        return tl::unexpected(db.error());
    }
    const auto hz = grid->frequency_hz();
    Read read{std::move(*found), {hz.begin(), hz.end()}, std::move(*db), {}};
    if (has_signs(read.found) && read.found.sign.other_radius < 1 && !read.found.roots) {
        FoundCoefficients turned = read.found;
        turn_feedback(turned);
        if (auto turned_db = db_of(turned)) {
            read.turned_db = std::move(*turned_db);
        }
    }
    return read;
}

void CoefficientsInDialog::read() {
    const auto said = reading();
    if (!said) {
        work_.stop();
        take_read(tl::unexpected(said.error()));
        return;
    }
    const auto work = [text = text_, said = *said, rate = session_.study().sample_rate_hz](
                          const Watch&) { return Read::from(*text, said, rate); };
    if (text_->size() <= quick_bytes) {
        take_read(work({}));
        return;
    }
    take_->setEnabled(false);
    facts_->setText(tr("Being read …"));
    work_.begin(work, [this](Expected<Read> read) { take_read(std::move(read)); });
}

void CoefficientsInDialog::take_read(Expected<Read> read) {
    found_ = read.map([](const Read& made) { return made.found; });
    show_found();
    show_levels(read.value_or(Read{}));
}

void CoefficientsInDialog::show_found() {
    take_->setEnabled(found_.has_value());
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, found_ ? theme().text : theme().not_met);
    facts_->setPalette(colours);
    const bool is_doubtful = found_ && !found_->sign.is_stable();
    turn_->setVisible(found_ && found_->sign.is_suspect());
    doubt_->setText(!is_doubtful ? QString()
                    : found_->sign.is_suspect()
                        ? tr("◇ Unstable as it is read, stable with the other sign.")
                        : tr("◇ Unstable with either sign."));
    if (!found_) {
        facts_->setText(QStringLiteral("◇ ") + QString::fromStdString(to_text(found_.error())));
        return;
    }
    turn_->setText(found_->convention.feedback == FeedbackSign::added ? tr("Subtract the a’s")
                                                                      : tr("Add the a’s"));
    QStringList lines{what_is_there(*found_)};
    for (const std::string& note : found_->notes) {
        lines << QString::fromStdString(note);
    }
    if (found_->sample_rate_hz && *found_->sample_rate_hz != session_.study().sample_rate_hz) {
        lines << tr("Made for %1: at %2 its frequencies move.")
                     .arg(hertz(*found_->sample_rate_hz), hertz(session_.study().sample_rate_hz));
    }
    facts_->setText(lines.join("\n"));
}

void CoefficientsInDialog::show_levels(const Read& read) {
    std::vector<NamedLevel> levels;
    const FeedbackSign sign = read.found.convention.feedback;
    if (!read.db.empty()) {
        levels.push_back({has_signs(read.found) ? words_of(sign) : tr("as read"), read.db,
                          theme().ink, Qt::SolidLine});
    }
    if (read.turned_db) {
        levels.push_back({words_of(other(sign)), *read.turned_db, theme().plum, Qt::DashLine});
    }
    plot_->show_levels(read.hz, std::move(levels), tr("Nothing to draw yet."));
}

void CoefficientsInDialog::turn_sign() {
    if (found_) {
        const QSignalBlocker quiet(sign_);
        sign_->setCurrentIndex(found_->convention.feedback == FeedbackSign::added ? 1 : 2);
        read();
    }
}

void CoefficientsInDialog::take() {
    if (found_) {
        add_stages(session_, name_, chain_of(*found_, name_.toStdString()));
        accept();
    }
}

QString CoefficientsInDialog::facts() const {
    return facts_->text();
}

QString CoefficientsInDialog::doubt() const {
    return doubt_->text();
}

QString CoefficientsInDialog::words_of_taken() const {
    return found_ && found_->sample_rate_hz
                   && *found_->sample_rate_hz != session_.study().sample_rate_hz
               ? tr("Made for %1 and taken as it is: at %2 its frequencies have moved.")
                     .arg(hertz(*found_->sample_rate_hz), hertz(session_.study().sample_rate_hz))
               : QString();
}

} // namespace syntonon
