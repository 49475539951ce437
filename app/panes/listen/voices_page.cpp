// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/voices_page.h"

#include "app/model/compared_chains.h"
#include "app/model/signal_commands.h"
#include "app/panes/trim/fields_trim.h"
#include "app/plot/picture_scale.h"
#include "app/widgets/key_row.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/thin_line.h"
#include "app/widgets/titled_box.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/design/modelled_filter.h"
#include "core/study/compared_chain.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

const Modulation& modulation_of(const Session& session) {
    static const Modulation none;
    return session.channel() != nullptr ? session.channel()->bench.modulation : none;
}

} // namespace

// The frequency during a note of a second and what follows, at full velocity on the middle key.
class VoicesPage::Drawing : public QWidget {
public:
    explicit Drawing(Session& session) : session_(session) {
        setAttribute(Qt::WA_OpaquePaintEvent);
        constexpr int least = 48;
        setMinimumHeight(least);
        setAccessibleName(VoicesPage::tr("Frequency during a note"));
        setToolTip(VoicesPage::tr("The frequency during a note of a second at full velocity on "
                                  "the middle key, and while it dies away"));
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.fillRect(rect(), theme().panel);
        painter.setFont(text_font(10));
        const auto analysis = session_.analysis();
        const auto set =
            analysis != nullptr ? modelled_frequency_hz(analysis->chain) : std::optional<double>();
        if (!set) {
            painter.setPen(theme().soft);
            painter.drawText(rect(), Qt::AlignCenter,
                             VoicesPage::tr("no modelled stage in the chain"));
            return;
        }
        const QRectF area(48, 4, width() - 60.0, height() - 18.0);
        const std::vector<double> octaves = course();
        const auto [low, high] = std::ranges::minmax(octaves);
        const double bottom = std::min(std::floor(low), -1.0), top = std::max(std::ceil(high), 1.0);
        const auto y_of = [&](double octave) {
            return area.bottom() - (octave - bottom) / (top - bottom) * area.height();
        };
        std::vector<ScaleMark> marks;
        constexpr double apart = 12; // pixels
        for (const double octave : {bottom, top, 0.0}) {
            const double y = y_of(octave);
            const bool has_room = std::ranges::all_of(
                marks, [y](const ScaleMark& mark) { return std::abs(mark.y - y) >= apart; });
            if (has_room) {
                marks.push_back({y, shown_words(frequency_text(*set * std::exp2(octave), 2))});
            }
        }
        paint_scale(painter, area, marks);
        paint_times(painter, area);
        QPolygonF line;
        for (std::size_t i = 0; i < octaves.size(); ++i) {
            const double share = static_cast<double>(i) / static_cast<double>(octaves.size() - 1);
            line << QPointF(area.left() + share * area.width(), y_of(octaves[i]));
        }
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(theme().ink, 1));
        draw_thin_line(painter, line);
    }

private:
    static constexpr double held_s = 1, shown_s = 1.6;

    std::vector<double> course() const {
        constexpr double rate_hz = 500;
        const Modulation& m = modulation_of(session_);
        Envelope envelope;
        envelope.prepare(m, rate_hz);
        envelope.begin();
        std::vector<double> octaves;
        for (int n = 0; n < static_cast<int>(shown_s * rate_hz); ++n) {
            if (n == static_cast<int>(held_s * rate_hz)) {
                envelope.release();
            }
            octaves.push_back(m.envelope_oct * envelope.next()
                              + m.oscillator_oct
                                    * value_of(m.oscillator_wave, m.oscillator_hz * n / rate_hz)
                              + m.velocity_oct);
        }
        return octaves;
    }
    void paint_times(QPainter& painter, const QRectF& area) const {
        painter.setPen(theme().soft);
        for (const double s : {0.0, 0.5, held_s, 1.5}) {
            const double x = area.left() + s / shown_s * area.width();
            const QString text = s == held_s ? VoicesPage::tr("key let go")
                                             : VoicesPage::tr("%1 s").arg(shown_number(s, 2));
            painter.drawText(QRectF(x - 40, area.bottom() + 1, 80, 14), Qt::AlignCenter, text);
        }
        painter.setPen(QPen(theme().grid, 1));
        const double x = area.left() + held_s / shown_s * area.width();
        painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()));
    }

    Session& session_;
};

VoicesPage::VoicesPage(Session& session, Listening& listening, QWidget* parent)
    : QWidget(parent), session_(session), listening_(listening), wave_(new QComboBox),
      midi_(new QComboBox), plain_(new QCheckBox(tr("compare with a plain state-variable filter"))),
      problem_(new QLabel), drawing_(new Drawing(session)), keys_(new KeyRow(listening.keys())) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 16, 6);
    column->setSpacing(2);
    column->addLayout(make_fields());
    problem_->setFont(text_font(11));
    problem_->setVisible(false);
    column->addWidget(problem_);
    column->addWidget(drawing_, 1);
    column->addWidget(keys_);
    column->addLayout(make_foot());
    list_midi();
    connect(keys_, &KeyRow::pressed, this, &VoicesPage::play_keys);
    connect(&session_, &Session::study_changed, this, &VoicesPage::refresh);
    connect(&session_, &Session::analysis_changed, this, &VoicesPage::refresh);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] { update(); });
    refresh();
}

QLayout* VoicesPage::make_fields() {
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(0);
    constexpr int columns = 5, wave_place = 7; // beside the oscillator's rate
    int place = 0;
    for (const auto& number : fields_of(Modulation())) {
        place += place == wave_place ? 1 : 0;
        grid->addWidget(make_field(number), place / columns, place % columns);
        ++place;
    }
    for (const auto& name : names_of_modulation_waves()) {
        wave_->addItem(text_of(name.title));
    }
    wave_->setAccessibleName(tr("Wave of the oscillator"));
    grid->addWidget(new TitledBox(tr("Wave"), wave_, 84), wave_place / columns,
                    wave_place % columns);
    connect(wave_, &QComboBox::activated, this, [this](int index) {
        edit(tr("Change the oscillator’s wave"), {}, [index](Modulation& m) {
            m.oscillator_wave = names_of_modulation_waves()[static_cast<std::size_t>(index)].value;
        });
    });
    return grid;
}

Field* VoicesPage::make_field(const NumberField<Modulation>& number) {
    const bool is_time = number.dimension == Dimension::time;
    auto* box =
        new Field({QString::fromUtf8(number.caption), QString::fromUtf8(number.unit),
                   number.dimension, is_time ? 0 : 2, number.least < 0, steps_of(number.steps)});
    if (is_time) {
        box->set_unit(tr("ms"), "ms", canonical_per_unit(number.dimension, number.unit), 0);
    }
    constexpr int height = 58;
    box->setFixedHeight(height);
    const std::size_t index = fields_.size();
    connect(box, &Field::value_entered, this,
            [this, index](double value, bool continuing) { take(index, value, continuing); });
    fields_.push_back(box);
    return box;
}

QLayout* VoicesPage::make_foot() {
    auto* foot = new QHBoxLayout;
    plain_->setFont(text_font(11));
    foot->addWidget(plain_);
    foot->addStretch(1);
    auto* label = new QLabel(tr("MIDI"));
    label->setFont(text_font(11));
    label->setBuddy(midi_);
    label->setContentsMargins(0, 0, 6, 0);
    foot->addWidget(label);
    constexpr int midi_width = 130;
    midi_->setFixedWidth(midi_width);
    midi_->setFont(text_font(11));
    midi_->setAccessibleName(tr("MIDI input"));
    foot->addWidget(midi_);
    connect(midi_, &QComboBox::activated, this, &VoicesPage::listen_to_midi);
    connect(plain_, &QCheckBox::clicked, this,
            [this](bool on) { compare_with(session_, std::string(key_of_state_variables), on); });
    return foot;
}

VoicesPage::~VoicesPage() = default;

Field* VoicesPage::field(std::string_view key) const {
    const auto all = fields_of(Modulation());
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (all[i].key == key) {
            return fields_[i];
        }
    }
    return nullptr;
}

QString VoicesPage::problem() const {
    return problem_->text();
}

void VoicesPage::show_problem(const QString& text) {
    problem_->setText(text.isEmpty() ? QString() : QStringLiteral("◇ ") + text);
    problem_->setVisible(!text.isEmpty());
}

void VoicesPage::edit(const QString& name, const QString& gesture,
                      const std::function<void(Modulation&)>& change) {
    session_.edit_channel(
        name, [&](Channel& channel) { change(channel.bench.modulation); }, gesture);
}

void VoicesPage::take(std::size_t index, double value, bool continuing) {
    const auto& number = fields_of(Modulation())[index];
    const double given = value / canonical_per_unit(number.dimension, number.unit);
    Modulation tried = modulation_of(session_);
    number.set(tried, given);
    if (const auto ok = check_fields(tried); !ok) {
        fields_[index]->show_problem(
            QString::fromStdString(ok.error().reason + "; " + ok.error().way_out));
        return;
    }
    fields_[index]->show_problem({});
    const QString key = QString::fromUtf8(number.key.data(), qsizetype(number.key.size()));
    edit(tr("Change the modulation"),
         continuing ? session_.continuing_gesture(QStringLiteral("modulation ") + key) : QString(),
         [&](Modulation& m) { m = tried; });
}

void VoicesPage::list_midi() {
    midi_->clear();
    midi_->addItem(tr("none"));
    for (const std::string& name : midi_inputs()) {
        midi_->addItem(QString::fromStdString(name), QString::fromStdString(name));
    }
    midi_->addItem(tr("a port of its own"), QString());
    midi_->setToolTip(tr("Keys come from there; what is plugged in later is listed when the "
                         "program is started again"));
}

void VoicesPage::listen_to_midi(int index) {
    midi_keys_.reset();
    show_problem({});
    if (index == 0) {
        return;
    }
    auto opened =
        MidiKeys::open(midi_->itemData(index).toString().toStdString(), listening_.keys());
    if (!opened) {
        show_problem(QString::fromStdString(to_text(opened.error())));
        midi_->setCurrentIndex(0);
        return;
    }
    midi_keys_ = std::move(*opened);
    play_keys();
}

// Keys sound while notes are played: where another signal is sent in, notes without any are.
void VoicesPage::play_keys() {
    if (session_.channel() == nullptr) {
        return;
    }
    if (!std::holds_alternative<NotesRecipe>(signal_sent(session_).recipe)) {
        const auto& signals_known = session_.study().test_signals;
        const auto known = std::ranges::find_if(signals_known, [](const auto& signal) {
            return std::holds_alternative<NotesRecipe>(signal->recipe);
        });
        if (known != signals_known.end()) {
            send_signal(session_, (*known)->id);
        } else {
            NotesRecipe silent;
            silent.notes.clear();
            add_signal(session_, silent);
        }
    }
    if (!listening_.is_playing()) {
        listening_.play(true);
    }
}

void VoicesPage::refresh() {
    const Modulation& modulation = modulation_of(session_);
    const auto all = fields_of(modulation);
    for (std::size_t i = 0; i < all.size(); ++i) {
        fields_[i]->show_value(*all[i].get(modulation)
                               * canonical_per_unit(all[i].dimension, all[i].unit));
    }
    wave_->setCurrentIndex(static_cast<int>(modulation.oscillator_wave));
    plain_->setChecked(is_compared(session_, std::string(key_of_state_variables)));
    const auto comparable = comparable_chains(session_);
    plain_->setEnabled(std::ranges::any_of(
        comparable, [](const ChainName& name) { return name.key == key_of_state_variables; }));
    drawing_->update();
}

} // namespace syntonon
