// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/delivery_form.h"

#include "app/model/delivery_commands.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/exchange/file_pattern.h"
#include "core/study/delivery_budget.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFontDatabase>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QSpinBox>
#include <algorithm>

namespace syntonon {
namespace {

template <class T>
void choose(QComboBox* box, T value) {
    box->setCurrentIndex(box->findData(static_cast<int>(value)));
}

template <class T>
T chosen(const QComboBox* box) {
    return static_cast<T>(box->currentData().toInt());
}

} // namespace

DeliveryForm::DeliveryForm(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), name_(new QLineEdit), pattern_(new QLineEdit),
      format_(new QComboBox), number_(new QComboBox), feedback_(new QComboBox),
      normalisation_(new QComboBox), order_(new QComboBox), processor_(new QComboBox),
      structure_(new QComboBox), block_(new QComboBox), indexed_(new QCheckBox),
      form_(new QPlainTextEdit), digits_(new QSpinBox), channels_(new QListWidget),
      problem_(new QLabel) {
    fill_choices();
    build();
    follow_controls();
    connect(&session_, &Session::study_changed, this, [this] {
        if (isVisible()) { // not while something is dragged on another desk
            refresh();
        }
    });
}

void DeliveryForm::fill_choices() {
    format_->addItem(tr("CSV table"), static_cast<int>(FileFormat::csv));
    format_->addItem(tr("JSON"), static_cast<int>(FileFormat::json));
    format_->addItem(tr("C header"), static_cast<int>(FileFormat::c_header));
    format_->addItem(tr("Text"), static_cast<int>(FileFormat::text));
    format_->addItem(tr("C++ class"), static_cast<int>(FileFormat::cpp_class));
    format_->addItem(tr("C++ instrument, test, host"), static_cast<int>(FileFormat::instrument));
    format_->addItem(tr("LV2 plug-in"), static_cast<int>(FileFormat::lv2));
    format_->addItem(tr("Hexadecimal words"), static_cast<int>(FileFormat::hex_words));
    format_->addItem(tr("Verilog and test bench"), static_cast<int>(FileFormat::verilog));
    format_->addItem(tr("WAV, of taps"), static_cast<int>(FileFormat::wav));
    format_->addItem(tr("A form of one's own"), static_cast<int>(FileFormat::form));
    number_->addItem(tr("double, 64 bits"), static_cast<int>(NumberType::real64));
    number_->addItem(tr("float, 32 bits"), static_cast<int>(NumberType::real32));
    feedback_->addItem(tr("subtracted: −a1 y′ −a2 y″"), static_cast<int>(FeedbackSign::subtracted));
    feedback_->addItem(tr("added: +a1 y′ +a2 y″"), static_cast<int>(FeedbackSign::added));
    normalisation_->addItem(tr("a0 = 1"), static_cast<int>(Normalisation::a0_one));
    normalisation_->addItem(tr("b0 = 1, with a gain"), static_cast<int>(Normalisation::b0_one));
    normalisation_->addItem(tr("a0 = ½, all halved"), static_cast<int>(Normalisation::a0_half));
    order_->setEditable(true);
    order_->addItems({"b0 b1 b2 a1 a2", "b0 b1 b2 a0 a1 a2", "a1 a2 b0 b1 b2", "b2 b1 b0 a2 a1",
                      "gain b1 b2 a1 a2"});
    digits_->setRange(1, 17);
}

void DeliveryForm::build() {
    auto* form = rows_ = new QFormLayout(this);
    form->setContentsMargins(16, 10, 16, 8);
    form->setVerticalSpacing(7);
    form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
    const auto add = [&](const QString& caption, QWidget* control) {
        form->addRow(caption, control);
        control->setAccessibleName(caption);
    };
    add(tr("Name"), name_);
    add(tr("Processor"), processor_);
    add(tr("Structure"), structure_);
    add(tr("Block"), block_);
    add(tr("File"), format_);
    add(tr("File names"), pattern_);
    pattern_->setPlaceholderText(text_of(usual_file_pattern));
    pattern_->setToolTip(tr("Of each channel's file, without its ending. In braces: {study}, "
                            "{channel}, {channel_id}, {delivery}, {rate}, {processor}, "
                            "{structure}, {format}"));
    add(tr("Numbered"), indexed_);
    indexed_->setText(tr("a number before each row"));
    add(tr("Form"), form_);
    form_->setMinimumHeight(90);
    form_->setFont(QFontDatabase::systemFont(QFontDatabase::FixedFont));
    form_->setLineWrapMode(QPlainTextEdit::NoWrap);
    form_->setTabChangesFocus(true);
    form_->setToolTip(tr("Markers are filled in: {{channel}}, {{sample_rate_hz}}; once a section "
                         "{{#sections}} {{number}} {{b0}} … {{/sections}}; once a tap {{#taps}} "
                         "{{index}} {{value}} {{/taps}}"));
    add(tr("Numbers"), number_);
    add(tr("Digits"), digits_);
    add(tr("a1 and a2 are"), feedback_);
    add(tr("Scaled to"), normalisation_);
    add(tr("Order"), order_);
    add(tr("Channels"), channels_);
    channels_->setMinimumHeight(66);
    channels_->setTextElideMode(Qt::ElideMiddle);
    for (QComboBox* box :
         {format_, number_, feedback_, normalisation_, order_, processor_, structure_, block_}) {
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(12);
    }
    problem_->setWordWrap(true);
    problem_->setObjectName("delivery_problem");
    form->addRow(problem_);
}

void DeliveryForm::follow_controls() {
    follow_processor();
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        const QString text = name_->text().trimmed();
        if (text.isEmpty()) {
            say(tr("◇ The name is empty: it becomes part of the file names, so give one"));
            return;
        }
        change(tr("name"), [&](Delivery& delivery) { delivery.name = text.toStdString(); });
    });
    connect(format_, &QComboBox::activated, this, [this] {
        change(tr("file"), [&](Delivery& d) { d.layout.format = chosen<FileFormat>(format_); });
    });
    connect(number_, &QComboBox::activated, this, [this] {
        change(tr("numbers"), [&](Delivery& d) {
            d.layout.number = chosen<NumberType>(number_);
            d.layout.digits = d.layout.number == NumberType::real32 ? 9 : 17;
        });
    });
    connect(feedback_, &QComboBox::activated, this, [this] {
        change(tr("sign"),
               [&](Delivery& d) { d.layout.feedback = chosen<FeedbackSign>(feedback_); });
    });
    connect(normalisation_, &QComboBox::activated, this, [this] {
        change(tr("scale"), [&](Delivery& d) {
            d.layout.normalisation = chosen<Normalisation>(normalisation_);
            // The order that this scale needs; the user may change it afterwards.
            d.layout.order = *order_from_text(d.layout.normalisation == Normalisation::b0_one
                                                  ? "gain b1 b2 a1 a2"
                                                  : "b0 b1 b2 a1 a2");
        });
    });
    connect(digits_, &QSpinBox::valueChanged, this, [this](int digits) {
        change(tr("digits"), [&](Delivery& d) { d.layout.digits = digits; });
    });
    connect(order_, &QComboBox::activated, this, &DeliveryForm::take_order);
    connect(order_->lineEdit(), &QLineEdit::editingFinished, this, &DeliveryForm::take_order);
    connect(channels_, &QListWidget::itemChanged, this, &DeliveryForm::take_channels);
}

void DeliveryForm::follow_processor() {
    connect(processor_, &QComboBox::activated, this, [this] {
        const std::string id = processor_->currentData().toString().toStdString();
        const Processor* processor = processor_of(session_.study(), id);
        change(tr("processor"), [&](Delivery& d) {
            d.processor = id;
            d.block_frames = 0;
            if (processor != nullptr && !processor->has(d.structure)) {
                d.structure = processor->structures.front().structure;
                d.found.clear(); // numbers of another structure
            }
        });
    });
    connect(structure_, &QComboBox::activated, this,
            [this] { take_structure(chosen<Structure>(structure_)); });
    connect(block_, &QComboBox::activated, this, [this] {
        change(tr("block"), [&](Delivery& d) { d.block_frames = block_->currentData().toInt(); });
    });
    connect(indexed_, &QCheckBox::toggled, this, [this](bool is_on) {
        change(tr("numbered rows"), [&](Delivery& d) { d.indexed = is_on; });
    });
    connect(pattern_, &QLineEdit::editingFinished, this, &DeliveryForm::take_pattern);
    connect(form_, &QPlainTextEdit::textChanged, this, &DeliveryForm::take_form);
}

void DeliveryForm::take_structure(Structure structure) {
    change(tr("structure"), [&](Delivery& d) {
        if (d.structure != structure) {
            d.structure = structure;
            d.found.clear(); // numbers of another structure
        }
    });
}

void DeliveryForm::take_pattern() {
    const std::string pattern = pattern_->text().trimmed().toStdString();
    const std::pair<std::string_view, std::string> values[] = {
        {"study", "a"}, {"channel", "a"},   {"channel_id", "a"}, {"delivery", "a"},
        {"rate", "a"},  {"processor", "a"}, {"structure", "a"},  {"format", "a"}};
    if (const auto stem = file_stem(pattern, values); !stem) {
        say(QStringLiteral("◇ ") + QString::fromStdString(to_text(stem.error())));
        return;
    }
    change(tr("file names"), [&](Delivery& d) { d.file_pattern = pattern; });
}

void DeliveryForm::take_form() {
    const std::string text = form_->toPlainText().toStdString();
    change(tr("form"), [&](Delivery& d) { d.form = text; });
}

void DeliveryForm::fill_processors() {
    processor_->clear();
    processor_->addItem(tr("none: numbers as designed"), QString());
    for (const Processor* processor : processors_of(session_.study())) {
        processor_->addItem(shown_words(processor->name), QString::fromStdString(processor->id));
    }
}

// What a processor decides is not asked, nor what a format has no use for.
void DeliveryForm::show_what_counts(const Delivery& delivery) {
    const Processor* processor = processor_of(session_.study(), delivery.processor);
    const FileFormat format = delivery.layout.format;
    const bool is_table = format == FileFormat::csv || format == FileFormat::json
                          || format == FileFormat::text || format == FileFormat::c_header;
    const bool as_designed = processor == nullptr && is_table;
    const auto show = [&](QWidget* control, bool is_shown) {
        rows_->labelForField(control)->setVisible(is_shown);
        control->setVisible(is_shown);
    };
    show(structure_, processor != nullptr);
    show(block_, processor != nullptr && processor->block_frames.size() > 1);
    for (QWidget* control :
         std::initializer_list<QWidget*>{number_, digits_, feedback_, normalisation_, order_}) {
        show(control, as_designed);
    }
    show(indexed_, format == FileFormat::csv || format == FileFormat::text
                       || format == FileFormat::hex_words);
    show(form_, format == FileFormat::form);
    structure_->clear();
    block_->clear();
    if (processor != nullptr) {
        for (const StructureCycles& each : processor->structures) {
            structure_->addItem(text_of(named(structures(), each.structure).title),
                                static_cast<int>(each.structure));
        }
        for (const int frames : processor->block_frames) {
            block_->addItem(frames == 1 ? tr("sample by sample") : tr("%1 frames").arg(frames),
                            frames);
        }
        choose(structure_, delivery.structure);
        choose(block_, block_frames_of(delivery, *processor));
    }
}

void DeliveryForm::say(const QString& problem) {
    problem_->setText(problem);
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, theme().not_met);
    problem_->setPalette(colours);
}

QString DeliveryForm::problem() const {
    return problem_->text();
}

void DeliveryForm::change(const QString& what, const std::function<void(Delivery&)>& change) {
    const Delivery* delivery = delivery_of(session_.study(), id_);
    if (filling_ || delivery == nullptr) {
        return;
    }
    Delivery changed = *delivery;
    change(changed);
    if (changed == *delivery) {
        return;
    }
    if (auto ok = check(changed.layout); !ok) {
        say(QStringLiteral("◇ ") + QString::fromStdString(to_text(ok.error())));
        return;
    }
    edit_delivery(session_, id_, what, change);
}

void DeliveryForm::take_order() {
    const auto order = order_from_text(order_->currentText().toStdString());
    if (!order) {
        say(QStringLiteral("◇ ") + QString::fromStdString(to_text(order.error())));
        return;
    }
    change(tr("order"), [&](Delivery& delivery) { delivery.layout.order = *order; });
}

// "All" while it is ticked; else those that are.
void DeliveryForm::take_channels() {
    if (filling_) {
        return;
    }
    const Delivery* delivery = delivery_of(session_.study(), id_);
    if (delivery == nullptr) {
        return;
    }
    const bool was_all = delivery->channels.empty();
    const bool all = channels_->item(0)->checkState() == Qt::Checked;
    std::vector<std::string> ids;
    for (int row = 1; row < channels_->count(); ++row) {
        if (channels_->item(row)->checkState() == Qt::Checked) {
            ids.push_back(channels_->item(row)->data(Qt::UserRole).toString().toStdString());
        }
    }
    const bool every = static_cast<int>(ids.size()) + 1 == channels_->count();
    // Ticking a channel or leaving one out while all are ticked means the list, not "all".
    const bool means_all = all && (!was_all || every);
    if (!means_all && ids.empty()) {
        refresh();
        say(tr("◇ A delivery has one channel at least: tick another first"));
        return;
    }
    // Later than the list's own signal: it is filled anew.
    QMetaObject::invokeMethod(
        this,
        [this, means_all, ids] {
            change(tr("channels"),
                   [&](Delivery& d) { d.channels = means_all ? std::vector<std::string>() : ids; });
        },
        Qt::QueuedConnection);
}

void DeliveryForm::show_delivery(const std::string& id) {
    id_ = id;
    refresh();
}

void DeliveryForm::show_channels(const Delivery& delivery) {
    channels_->clear();
    const auto add = [&](const QString& text, const QString& id, bool ticked) {
        auto* item = new QListWidgetItem(text, channels_);
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(ticked ? Qt::Checked : Qt::Unchecked);
        item->setData(Qt::UserRole, id);
        item->setToolTip(text);
    };
    const bool all = delivery.channels.empty();
    add(tr("all channels, also later ones"), {}, all);
    for (const auto& channel : session_.study().channels) {
        const bool named = std::ranges::count(delivery.channels, channel->id) > 0;
        if (named || channel->domain == Domain::sampled) { // analog ones are not for processors
            add(QString::fromStdString(channel->name), QString::fromStdString(channel->id),
                all || named);
        }
    }
}

void DeliveryForm::refresh() {
    const Delivery* delivery = delivery_of(session_.study(), id_);
    for (QWidget* each : findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly)) {
        each->setVisible(delivery != nullptr);
    }
    problem_->clear();
    if (delivery == nullptr) {
        return;
    }
    filling_ = true;
    const CoefficientLayout& layout = delivery->layout;
    fill_processors();
    processor_->setCurrentIndex(
        std::max(0, processor_->findData(QString::fromStdString(delivery->processor))));
    show_what_counts(*delivery);
    indexed_->setChecked(delivery->indexed);
    if (pattern_->text().trimmed().toStdString() != delivery->file_pattern) {
        pattern_->setText(QString::fromStdString(delivery->file_pattern));
    }
    if (form_->toPlainText().toStdString() != delivery->form) {
        form_->setPlainText(QString::fromStdString(delivery->form));
    }
    choose(format_, layout.format);
    choose(number_, layout.number);
    choose(feedback_, layout.feedback);
    choose(normalisation_, layout.normalisation);
    digits_->setValue(layout.digits);
    order_->setCurrentText(QString::fromStdString(order_text(layout.order)));
    if (name_->text().trimmed().toStdString() != delivery->name) {
        name_->setText(QString::fromStdString(delivery->name));
    }
    show_channels(*delivery);
    filling_ = false;
}

} // namespace syntonon
