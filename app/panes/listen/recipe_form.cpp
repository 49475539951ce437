// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/recipe_form.h"

#include "app/model/signal_commands.h"
#include "app/widgets/quantity_edit.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/exchange/taps_text.h"
#include "core/signal/notes_text.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <algorithm>

namespace syntonon {
namespace {

// Milliseconds are shown and typed as times.
double canonical_per_unit(const char* unit) {
    return std::string_view(unit) == "ms" ? 1e-3 : 1;
}
QString shown_unit(const char* unit) {
    return std::string_view(unit) == "ms" ? QStringLiteral("s") : QString::fromUtf8(unit);
}

// To be read again: a row as it was given.
QString row_text(const std::vector<double>& values) {
    QString text;
    for (const double value : values) {
        text += (text.isEmpty() ? "" : " ")
                + QString::fromStdString(shortest_text(value)).replace('-', QStringLiteral("−"));
    }
    return text;
}

Expected<std::vector<double>> row_from(const QString& text) {
    return taps_from_text(QString(text).replace(QStringLiteral("−"), "-").toStdString());
}

} // namespace

RecipeForm::RecipeForm(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), grid_(new QGridLayout(this)), name_(new QLineEdit),
      problem_(new QLabel) {
    grid_->setContentsMargins(16, 4, 16, 8);
    grid_->setHorizontalSpacing(8);
    grid_->setVerticalSpacing(4);
    grid_->setColumnStretch(1, 1);
    grid_->setColumnStretch(3, 1);
    name_->setAccessibleName(tr("Name of the signal"));
    problem_->setWordWrap(true);
    problem_->setObjectName("recipe_problem");
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        const QString name = name_->text().trimmed();
        const Signal* signal = signal_of(session_.study(), id_);
        if (signal != nullptr && !name.isEmpty() && name.toStdString() != signal->name) {
            edit(tr("Rename the signal to %1").arg(name),
                 [&](Signal& s) { s.name = name.toStdString(); });
        }
    });
}

QuantityEdit* RecipeForm::field(std::string_view key) const {
    const auto found = std::ranges::find(boxes_, key, &Box::key);
    return found != boxes_.end() ? found->edit : nullptr;
}

QString RecipeForm::problem() const {
    return problem_->text();
}

void RecipeForm::show_problem(const QString& text) {
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, theme().not_met);
    problem_->setPalette(colours);
    problem_->setText(text.isEmpty() ? QString() : QStringLiteral("◇ ") + text);
    problem_->setVisible(!text.isEmpty());
}

void RecipeForm::edit(const QString& name, const std::function<void(Signal&)>& change,
                      const QString& gesture) {
    edit_signal(session_, id_, name, change, gesture);
}

void RecipeForm::show_signal(const std::string& id) {
    const Signal* signal = signal_of(session_.study(), id);
    const bool is_other = id != id_ || signal == nullptr || kind_of(signal->recipe) != kind_;
    id_ = signal != nullptr ? id : std::string();
    setVisible(signal != nullptr);
    if (signal == nullptr) {
        kind_ = {};
        return;
    }
    if (is_other) {
        build(signal->recipe);
        show_problem({});
    }
    fill(*signal);
}

void RecipeForm::add_row(const QString& caption, QWidget* widget, bool wide) {
    places_ += wide ? places_ % 2 : 0;
    const int row = 1 + places_ / 2, column = 2 * (places_ % 2);
    auto* label = new QLabel(caption);
    label->setBuddy(widget);
    widget->setAccessibleName(caption);
    grid_->addWidget(label, row, column, wide ? Qt::AlignTop : Qt::Alignment());
    grid_->addWidget(widget, row, column + 1, 1, wide ? 3 : 1);
    places_ += wide ? 2 : 1;
}

template <class Spec>
void RecipeForm::add_fields(const Spec& spec) {
    for (const NumberField<Spec>& field : fields_of(spec)) {
        const double canonical = canonical_per_unit(field.unit);
        auto* edit = new QuantityEdit(field.dimension, shown_unit(field.unit));
        add_row(QString::fromUtf8(field.caption), edit);
        boxes_.push_back({std::string(field.key), edit});
        connect(edit, &QuantityEdit::problem_found, this, &RecipeForm::show_problem);
        connect(edit, &QuantityEdit::value_entered, this,
                [this, field, canonical](std::optional<double> value) {
                    const Signal* signal = signal_of(session_.study(), id_);
                    if (!value || signal == nullptr) {
                        return;
                    }
                    Spec tried = std::get<Spec>(signal->recipe);
                    const double given = *value / canonical;
                    field.set(tried, field.steps == FieldSteps::whole ? std::round(given) : given);
                    if (const auto ok = check_fields(tried); !ok) {
                        show_problem(
                            QString::fromStdString(ok.error().reason + "; " + ok.error().way_out));
                        fill(*signal);
                        return;
                    }
                    show_problem({});
                    this->edit(tr("Change %1"), [&](Signal& s) { s.recipe = tried; });
                });
    }
}

QComboBox* RecipeForm::signal_choice(std::string MixRecipe::*member) {
    auto* box = new QComboBox;
    connect(box, &QComboBox::activated, this, [this, box, member](int) {
        const std::string chosen = box->currentData().toString().toStdString();
        edit(tr("Change %1"), [&](Signal& s) { std::get<MixRecipe>(s.recipe).*member = chosen; });
    });
    fillers_.emplace_back([this, box, member](const Signal& signal) {
        box->clear();
        for (const auto& one : session_.study().test_signals) {
            if (one->id != signal.id) {
                box->addItem(QString::fromStdString(one->name), QString::fromStdString(one->id));
            }
        }
        const std::string& chosen = std::get<MixRecipe>(signal.recipe).*member;
        box->setCurrentIndex(box->findData(QString::fromStdString(chosen)));
    });
    return box;
}

void RecipeForm::add_rest(const SweptToneRecipe&) {
    auto* pace = new QComboBox;
    pace->addItems({tr("equal ratios"), tr("equal steps")});
    add_row(tr("Pace"), pace);
    connect(pace, &QComboBox::activated, this, [this](int index) {
        edit(tr("Change %1"), [index](Signal& s) {
            std::get<SweptToneRecipe>(s.recipe).pace =
                index == 0 ? SweepPace::exponential : SweepPace::linear;
        });
    });
    fillers_.emplace_back([pace](const Signal& s) {
        pace->setCurrentIndex(
            std::get<SweptToneRecipe>(s.recipe).pace == SweepPace::exponential ? 0 : 1);
    });
}

void RecipeForm::add_rest(const SawChordRecipe&) {
    auto* row = new QLineEdit;
    add_row(tr("Frequencies in Hz"), row, true);
    connect(row, &QLineEdit::editingFinished, this, [this, row] {
        const auto read = row_from(row->text());
        show_problem(read ? QString() : QString::fromStdString(to_text(read.error())));
        const Signal* signal = signal_of(session_.study(), id_);
        if (read && signal != nullptr
            && std::get<SawChordRecipe>(signal->recipe).frequencies_hz != *read) {
            edit(tr("Change %1"),
                 [&](Signal& s) { std::get<SawChordRecipe>(s.recipe).frequencies_hz = *read; });
        }
    });
    fillers_.emplace_back([row](const Signal& s) {
        row->setText(row_text(std::get<SawChordRecipe>(s.recipe).frequencies_hz));
    });
}

void RecipeForm::add_rest(const NotesRecipe&) {
    auto* wave = new QComboBox;
    for (const auto& name : names_of_note_waves()) {
        wave->addItem(text_of(name.title));
    }
    add_row(tr("Wave"), wave);
    connect(wave, &QComboBox::activated, this, [this](int index) {
        edit(tr("Change %1"), [index](Signal& s) {
            std::get<NotesRecipe>(s.recipe).wave =
                names_of_note_waves()[static_cast<std::size_t>(index)].value;
        });
    });
    auto* row = new QLineEdit;
    row->setPlaceholderText(tr("A2 0 1.5 0.8; E3 …"));
    row->setToolTip(tr("Key, begin and end in seconds, velocity; parted by semicolons. What is "
                       "left out is as of the note before."));
    add_row(tr("Notes"), row, true);
    connect(row, &QLineEdit::editingFinished, this, [this, row] {
        const auto read = notes_from_text(row->text().toStdString());
        show_problem(read ? QString() : QString::fromStdString(to_text(read.error())));
        const Signal* signal = signal_of(session_.study(), id_);
        if (read && signal != nullptr && std::get<NotesRecipe>(signal->recipe).notes != *read) {
            edit(tr("Change %1"),
                 [&](Signal& s) { std::get<NotesRecipe>(s.recipe).notes = *read; });
        }
    });
    fillers_.emplace_back([wave, row](const Signal& s) {
        const auto& recipe = std::get<NotesRecipe>(s.recipe);
        wave->setCurrentIndex(static_cast<int>(recipe.wave));
        row->setText(QString::fromStdString(notes_text(recipe.notes)));
    });
}

void RecipeForm::add_rest(const NumbersRecipe&) {
    numbers_ = new QPlainTextEdit;
    numbers_->setPlaceholderText(tr("Type or paste numbers: 1 0.5 −0.25 …\nBlanks, commas, "
                                    "semicolons or lines part them."));
    numbers_->setTabChangesFocus(true);
    constexpr int few_lines = 64;
    numbers_->setMinimumHeight(few_lines);
    add_row(tr("Numbers"), numbers_, true);
    connect(numbers_, &QPlainTextEdit::textChanged, this, &RecipeForm::take_numbers);
    fillers_.emplace_back([this](const Signal& s) {
        const auto& values = std::get<NumbersRecipe>(s.recipe).values;
        const auto typed = row_from(numbers_->toPlainText());
        if (!numbers_->hasFocus() && (!typed || *typed != values)) {
            const QSignalBlocker blocker(numbers_);
            numbers_->setPlainText(row_text(values));
        }
    });
}

void RecipeForm::add_rest(const FileRecipe&) {
    auto* path = new QLabel;
    path->setTextInteractionFlags(Qt::TextSelectableByMouse);
    path->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    add_row(tr("File"), path, true);
    auto* convert = new QCheckBox(tr("Convert from another sample rate"));
    add_row({}, convert, true);
    convert->setAccessibleName(convert->text());
    connect(convert, &QCheckBox::clicked, this, [this](bool on) {
        edit(tr("Change %1"), [on](Signal& s) { std::get<FileRecipe>(s.recipe).convert = on; });
    });
    fillers_.emplace_back([path, convert](const Signal& s) {
        const auto& recipe = std::get<FileRecipe>(s.recipe);
        path->setText(QString::fromStdString(recipe.path));
        path->setToolTip(path->text());
        convert->setChecked(recipe.convert);
    });
}

void RecipeForm::add_rest(const MixRecipe&) {
    add_row(tr("Signal"), signal_choice(&MixRecipe::signal));
    add_row(tr("Disturbance"), signal_choice(&MixRecipe::disturbance));
}

void RecipeForm::build(const Recipe& recipe) {
    name_->setParent(nullptr);
    problem_->setParent(nullptr);
    while (QLayoutItem* item = grid_->takeAt(0)) {
        if (item->widget() != nullptr && item->widget() != name_ && item->widget() != problem_) {
            item->widget()->deleteLater();
            item->widget()->hide();
        }
        delete item;
    }
    boxes_.clear();
    fillers_.clear();
    numbers_ = nullptr;
    kind_ = kind_of(recipe);
    places_ = 0;
    grid_->addWidget(name_, 0, 0, 1, 4);
    length_ = new QuantityEdit(Dimension::plain, {});
    length_unit_ = new QComboBox;
    length_unit_->addItems({tr("seconds"), tr("samples")});
    add_row(tr("Length"), length_);
    add_row(tr("in"), length_unit_);
    connect(length_, &QuantityEdit::problem_found, this, &RecipeForm::show_problem);
    connect(length_, &QuantityEdit::value_entered, this, [this](std::optional<double> value) {
        const Signal* signal = signal_of(session_.study(), id_);
        if (!value || signal == nullptr) {
            return;
        }
        const SignalLength wished{signal->length.unit, *value};
        const auto ok = samples_of(wished, session_.study().sample_rate_hz);
        show_problem(ok ? QString()
                        : QString::fromStdString(ok.error().reason + "; " + ok.error().way_out));
        if (ok) {
            edit(tr("Change the length of %1"), [&](Signal& s) { s.length = wished; });
        } else {
            fill(*signal);
        }
    });
    connect(length_unit_, &QComboBox::activated, this, [this](int index) {
        const double rate = session_.study().sample_rate_hz;
        const auto unit = index == 0 ? LengthUnit::seconds : LengthUnit::samples;
        edit(tr("Change the length of %1"), [&](Signal& s) {
            if (s.length.unit != unit) {
                s.length.value = unit == LengthUnit::seconds ? s.length.value / rate
                                                             : std::round(s.length.value * rate);
                s.length.unit = unit;
            }
        });
    });
    std::visit(
        [&](const auto& spec) {
            add_fields(spec);
            add_rest(spec);
        },
        recipe);
    const int last = 2 + (places_ + 1) / 2;
    grid_->addWidget(problem_, last, 0, 1, 4);
    grid_->setRowStretch(last + 1, 1);
}

void RecipeForm::fill(const Signal& signal) {
    if (!name_->hasFocus()) {
        name_->setText(QString::fromStdString(signal.name));
    }
    const bool in_samples = signal.length.unit == LengthUnit::samples;
    length_->show_value(signal.length.value);
    length_unit_->setCurrentIndex(in_samples ? 1 : 0);
    std::visit(
        [&](const auto& spec) {
            std::size_t i = 0;
            for (const auto& field : fields_of(spec)) {
                boxes_[i].edit->set_sample_rate(session_.study().sample_rate_hz);
                const auto value = field.get(spec);
                boxes_[i].edit->show_value(
                    value ? std::optional(*value * canonical_per_unit(field.unit)) : value);
                ++i;
            }
        },
        signal.recipe);
    for (const auto& filler : fillers_) {
        filler(signal);
    }
}

// What cannot be read leaves the signal as it is and says why.
void RecipeForm::take_numbers() {
    const auto read = row_from(numbers_->toPlainText());
    const Signal* signal = signal_of(session_.study(), id_);
    if (!read || signal == nullptr) {
        show_problem(read ? QString() : QString::fromStdString(to_text(read.error())));
        return;
    }
    show_problem({});
    if (std::get<NumbersRecipe>(signal->recipe).values == *read) {
        return;
    }
    const double rate = session_.study().sample_rate_hz;
    edit(
        tr("Change %1"),
        [&](Signal& s) {
            std::get<NumbersRecipe>(s.recipe).values = *read;
            const auto length = samples_of(s.length, rate);
            if (!length || *length < read->size()) {
                s.length = {LengthUnit::samples, static_cast<double>(read->size())};
            }
        },
        session_.continuing_gesture("numbers" + QString::fromStdString(id_)));
}

} // namespace syntonon
