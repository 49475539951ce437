// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/listening.h"

#include "app/model/compared_chains.h"
#include "app/widgets/shown_number.h"
#include "core/base/units.h"
#include "core/engine/render.h"
#include "core/signal/against_reference.h"
#include "core/signal/levels.h"

#include <QSettings>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr int tick_ms = 40, close_after_ms = 1500;

std::size_t chain_index(Heard heard) {
    return static_cast<std::size_t>(heard) - static_cast<std::size_t>(Heard::first_chain);
}
bool is_chain(Heard heard) {
    return heard >= Heard::first_chain;
}

struct Loudness {
    std::vector<double> gains_db; // by choice
    std::size_t reference_delay = 0;
};

// By which the first is later than the second, in whole samples; enough of both is looked at.
std::size_t delay_against(std::span<const double> out, std::span<const double> reference) {
    constexpr std::size_t enough = std::size_t(1) << 20;
    const auto found = against_reference(out.first(std::min(out.size(), enough)),
                                         reference.first(std::min(reference.size(), enough)));
    return found ? static_cast<std::size_t>(std::max(0.0, std::round(found->delay_samples))) : 0;
}

} // namespace

Listening::Listening(Session& session, BenchWork& bench, QObject* parent)
    : QObject(parent), session_(session), bench_(bench) {
    const QSettings settings;
    device_ = settings.value("sound/device").toString();
    constexpr unsigned usual = 256, least = 32, most = 8192;
    frames_ = std::clamp(settings.value("sound/frames", usual).toUInt(), least, most);
    device_rate_hz_ = std::max(0.0, settings.value("sound/rate_hz", 0).toDouble());
    ticks_.setInterval(tick_ms);
    closes_.setSingleShot(true);
    closes_.setInterval(close_after_ms);
    connect(&ticks_, &QTimer::timeout, this, &Listening::tick);
    connect(&closes_, &QTimer::timeout, this, [this] { stream_.reset(); });
    connect(&bench_, &BenchWork::changed, this, &Listening::follow_signals);
    connect(&bench_, &BenchWork::span_changed, this, &Listening::send_loop);
    connect(&session_, &Session::analysis_changed, this, &Listening::follow_chains);
    follow_signals();
}

Listening::~Listening() {
    stream_.reset();
}

// --- what there is to listen to ---

std::vector<ListenChoice> Listening::wanted_choices() const {
    std::vector<ListenChoice> wanted = {{Heard::in, tr("in"), {}}, {chain_heard(0), tr("out"), {}}};
    if (!bench_.values(Track::reference).empty()) {
        wanted.push_back({Heard::reference, tr("reference"), {}});
        wanted.push_back({Heard::difference, tr("difference"), {}});
    }
    std::size_t chain = 1;
    const Channel* channel = session_.channel();
    if (channel == nullptr) {
        return wanted;
    }
    for (const ChainName& name : comparable_chains(session_)) {
        const bool is_take = name.key.starts_with("take:");
        if (chain < Player::most_chains && (is_take || is_compared(session_, name.key))) {
            wanted.push_back({chain_heard(chain++), name.name, name.key});
        }
    }
    return wanted;
}

Expected<Filter> Listening::chain_of(const ListenChoice& choice,
                                     const std::shared_ptr<const LiveKeys>& keys) const {
    const auto analysis = session_.analysis();
    if (session_.channel() == nullptr || analysis == nullptr || session_.axis().is_analog()) {
        return refuse("", "there is no chain to send it through", "choose a sampled channel");
    }
    if (choice.id.empty()) {
        return bench_.as_heard(analysis->chain, keys);
    }
    return chain_compared(session_, choice.id).map([&](const ChainCompared& compared) {
        return bench_.as_heard(compared.chain, keys);
    });
}

void Listening::save_chosen(SaveSound& saving, const QString& path,
                            const SoundFormatWish& wish) const {
    const ListenChoice& choice = choices_[chosen_];
    const SharedSamples in = bench_.samples(Track::in);
    if (is_chain(choice.heard)) {
        if (const auto chain = chain_of(choice, nullptr)) {
            saving.save_made(*chain, in, bench_.sample_rate_hz(), path, wish);
        } else {
            saving.give_up(path, chain.error());
        }
        return;
    }
    const Track track = choice.heard == Heard::in          ? Track::in
                        : choice.heard == Heard::reference ? Track::reference
                                                           : Track::difference;
    const SharedSamples samples = bench_.samples(track);
    if (samples == nullptr || samples->values().empty()) {
        saving.give_up(path, Problem{"", "there is nothing of it yet",
                                     "show it above, and wait until it is drawn"});
        return;
    }
    saving.save(samples, bench_.sample_rate_hz(), path, wish);
}

// --- following the bench ---

void Listening::follow_signals() {
    const bool same = played_in_ == bench_.samples(Track::in)
                      && played_reference_ == bench_.samples(Track::reference);
    if (!same) {
        played_in_ = bench_.samples(Track::in);
        played_reference_ = bench_.samples(Track::reference);
        stream_.reset(); // before the player that it plays from
        player_.reset();
        sent_.clear();
        if (plays_) {
            plays_ = false;
            play(true);
        }
    }
    follow_chains();
    if (!same) {
        measure_loudness();
    }
}

// While nobody looks or listens nothing is worked out.
void Listening::follow_chains() {
    if (!bench_.is_watched()) {
        return;
    }
    const auto wanted = wanted_choices();
    if (wanted != choices_) {
        const ListenChoice was =
            chosen_ < choices_.size() ? choices_[chosen_] : ListenChoice{chain_heard(0), {}, {}};
        choices_ = wanted;
        const auto still = std::ranges::find_if(choices_, [&](const ListenChoice& choice) {
            return choice.id == was.id && (!was.id.empty() || choice.heard == was.heard);
        });
        chosen_ = still != choices_.end() ? static_cast<std::size_t>(still - choices_.begin()) : 1;
        heard_ = chosen_;
        hidden_ = false;
        gains_db_.assign(choices_.size(), 0);
        if (Player* player = rendering()) {
            player->listen_to(choices_[heard_].heard);
        }
        measure_loudness();
    }
    if (const auto chain = chain_of(choices_[1], keys_);
        chain && !(loudness_of_ && *loudness_of_ == *chain)) {
        loudness_of_ = *chain;
        measure_loudness();
    }
    for (const ListenChoice& choice : choices_) {
        if (is_chain(choice.heard)) {
            send_chain(chain_index(choice.heard), chain_of(choice, keys_));
        }
    }
    emit changed();
}

void Listening::send_chain(std::size_t index, const Expected<Filter>& filter) {
    if (rendering() == nullptr) {
        return;
    }
    sent_.resize(Player::most_chains);
    chain_problems_.resize(Player::most_chains);
    if (!filter) {
        sent_[index].reset();
        chain_problems_[index] = QString::fromStdString(to_text(filter.error()));
        player_->mute_chain(index);
        return;
    }
    if (sent_[index] && *sent_[index] == *filter) {
        return;
    }
    const auto ok = player_->set_chain(index, *filter);
    // What was only too early for the player is sent again.
    sent_[index] = ok || !filter->is_stable() ? std::optional(*filter) : std::nullopt;
    chain_problems_[index] = ok ? QString() : QString::fromStdString(to_text(ok.error()));
}

void Listening::make_player() {
    const auto reference = bench_.samples(Track::reference);
    PlayedSignals signals_played;
    // The samples live as long as the player.
    signals_played.in = {played_in_, &played_in_->values()};
    if (!reference->values().empty()) {
        signals_played.reference = {reference, &reference->values()};
    }
    signals_played.reference_delay = reference_delay_;
    sent_.clear();
    player_ = std::make_unique<Player>(std::move(signals_played), Player::most_chains);
}

// What has changed while nothing was rendered.
void Listening::send_all() {
    follow_chains();
    player_->listen_to(choices_[heard_].heard);
    player_->set_reference_delay(reference_delay_);
    send_loop();
    send_gains();
    player_->set_volume(ratio_from_db(volume_db_));
    play_tone(tone_hz_);
}

// --- playing ---

void Listening::open_stream() {
    SoundWish wish;
    wish.device = device_.toStdString();
    wish.sample_rate_hz = bench_.sample_rate_hz();
    wish.frames = frames_;
    wish.device_rate_hz = device_rate_hz_;
    auto opened = SoundStream::open(
        wish, [player = player_.get()](std::span<double> block) { player->render(block); });
    if (!opened) {
        fail(QString::fromStdString(to_text(opened.error())));
        return;
    }
    stream_ = std::move(*opened);
}

void Listening::fail(const QString& problem) {
    problem_ = problem;
    plays_ = false;
    ticks_.stop();
    emit changed();
}

void Listening::play(bool plays) {
    if (!plays) {
        if (player_ != nullptr) {
            player_->play(false);
        }
        plays_ = false;
        closes_.start();
        emit changed();
        return;
    }
    problem_.clear();
    if (bench_.length() == 0) {
        fail(tr("there is nothing to play"));
        return;
    }
    closes_.stop();
    if (player_ == nullptr) {
        make_player();
    }
    if (stream_ == nullptr) {
        open_stream();
        if (stream_ == nullptr) {
            return;
        }
        bench_.set_watched(true);
        send_all();
    }
    plays_ = true;
    player_->play(true);
    ticks_.start();
    emit changed();
}

void Listening::tick() {
    if (player_ == nullptr) {
        ticks_.stop();
        return;
    }
    meters_ = player_->meters();
    player_->collect();
    if (stream_ != nullptr && stream_->is_lost()) {
        stream_.reset();
        fail(tr("the sound device has gone: choose another one, or play again when it is back"));
    } else if (plays_ && !player_->is_playing()) {
        plays_ = false; // the signal is over
        closes_.start();
        emit changed();
    }
    const ListenChoice& choice = choices_[chosen_];
    if (is_chain(choice.heard) && meters_.ran_away.at(chain_index(choice.heard))) {
        const std::size_t index = chain_index(choice.heard);
        const QString why = index < chain_problems_.size() && !chain_problems_[index].isEmpty()
                                ? chain_problems_[index]
                                : tr("its output left all bounds");
        if (const QString text = tr("muted: %1").arg(why); problem_ != text) {
            problem_ = text;
            emit changed();
        }
    } else if (problem_.startsWith(tr("muted: %1").arg(QString()))) {
        problem_.clear();
        emit changed();
    }
    if (!plays_) {
        ticks_.stop();
    }
    emit ticked();
}

void Listening::choose(std::size_t index) {
    if (index < choices_.size()) {
        chosen_ = heard_ = index;
        hidden_ = false;
        if (Player* player = rendering()) {
            player->listen_to(choices_[index].heard);
        }
        emit changed();
    }
}

void Listening::choose_hidden(std::size_t index) {
    if (index < choices_.size()) {
        hidden_ = true;
        heard_ = index;
        if (Player* player = rendering()) {
            player->listen_to(choices_[index].heard);
        }
        emit changed();
    }
}

void Listening::set_loops(bool loops) {
    loops_ = loops;
    send_loop();
    emit changed();
}

void Listening::send_loop() {
    if (rendering() == nullptr) {
        return;
    }
    player_->set_loop(bench_.span(), loops_);
    const auto [from, to] = bench_.span_or_all();
    if (player_->position() < from || player_->position() >= to) {
        player_->go_to(from);
    }
}

void Listening::play_tone(std::optional<double> hz) {
    tone_hz_ = hz;
    if (rendering() != nullptr) {
        player_->play_tone(hz ? std::optional(*hz / bench_.sample_rate_hz()) : std::nullopt);
    }
}

void Listening::set_volume_db(double db) {
    volume_db_ = db;
    if (rendering() != nullptr) {
        player_->set_volume(ratio_from_db(db));
    }
    emit changed();
}

void Listening::use_device(const QString& device, unsigned frames, double rate_hz) {
    device_ = device;
    frames_ = frames;
    device_rate_hz_ = rate_hz;
    QSettings settings;
    settings.setValue("sound/device", device);
    settings.setValue("sound/frames", frames);
    settings.setValue("sound/rate_hz", rate_hz);
    const bool played = plays_;
    stream_.reset();
    plays_ = false;
    if (played) {
        play(true);
    }
    emit changed();
}

QString Listening::state_text() const {
    if (stream_ == nullptr) {
        return {};
    }
    const double own = bench_.sample_rate_hz(), played = stream_->device_rate_hz();
    const QString rate = own == played
                             ? tr("%1 kHz").arg(own / 1000)
                             : tr("%1 kHz played at %2 kHz").arg(own / 1000).arg(played / 1000);
    return tr("%1, %2, %3 frames · load %4 %")
        .arg(QString::fromStdString(stream_->device()), rate)
        .arg(stream_->frames())
        .arg(std::round(stream_->load() * 100));
}

std::vector<double> Listening::last_played(std::size_t count) const {
    return player_ != nullptr ? player_->last_played(count) : std::vector<double>();
}

std::map<double, double> Listening::live_levels() const {
    constexpr std::size_t length = 8192;
    constexpr double low_hz = 20, points_an_octave = 24;
    const auto played = last_played(length);
    std::map<double, double> levels;
    if (played.size() < length || !is_playing()) {
        return levels;
    }
    const Spectrum spectrum =
        level_spectrum(played, bench_.sample_rate_hz(), {{WindowShape::hann, 0, {}}, length, 1});
    const double step = std::exp2(1 / points_an_octave);
    const double end = bench_.sample_rate_hz() / 2;
    for (double hz = low_hz; hz < end; hz *= step) {
        const auto from = static_cast<std::size_t>(hz / std::sqrt(step) / spectrum.step_hz);
        const auto to =
            std::max(from + 1, static_cast<std::size_t>(hz * std::sqrt(step) / spectrum.step_hz));
        double highest = -200;
        for (std::size_t k = from; k < std::min(to, spectrum.db.size()); ++k) {
            highest = std::max(highest, spectrum.db[k]);
        }
        levels[hz] = highest;
    }
    return levels;
}

// --- loudness ---

void Listening::set_matched(bool matched) {
    matched_ = matched;
    send_gains();
    emit changed();
}

double Listening::gain_db(std::size_t choice) const {
    return matched_ && choice < gains_db_.size() ? gains_db_[choice] : 0;
}

void Listening::send_gains() {
    if (rendering() == nullptr) {
        return;
    }
    for (std::size_t i = 0; i < choices_.size(); ++i) {
        player_->set_gain(choices_[i].heard, ratio_from_db(gain_db(i)));
    }
}

// Each to the quietest: nothing gets louder. A difference is left as it is: how little of it there
// is, is what one listens for.
void Listening::measure_loudness() {
    std::vector<std::optional<Filter>> chains;
    std::vector<Heard> heard;
    for (const ListenChoice& choice : choices_) {
        heard.push_back(choice.heard);
        const auto chain = chain_of(choice, keys_);
        chains.push_back(is_chain(choice.heard) && chain ? std::optional(*chain) : std::nullopt);
    }
    const auto measure = [chains, heard, in = bench_.samples(Track::in),
                          reference = bench_.samples(Track::reference),
                          rate = bench_.sample_rate_hz()](const Watch& watch) {
        std::vector<SignalLevels> levels(heard.size());
        Loudness found;
        for (std::size_t i = 0; i < heard.size(); ++i) {
            if (heard[i] == Heard::in) {
                levels[i] = levels_of(in->values(), rate);
            } else if (heard[i] == Heard::reference) {
                levels[i] = levels_of(reference->values(), rate);
            } else if (chains[i] && chains[i]->is_stable()) {
                if (const auto rendered = render(*chains[i], in->values(), 0, watch)) {
                    levels[i] = levels_of(rendered->out, rate);
                    if (heard[i] == chain_heard(0)) {
                        found.reference_delay = delay_against(rendered->out, reference->values());
                    }
                }
            }
        }
        std::vector<double>& gains = found.gains_db;
        gains.assign(heard.size(), 0.0);
        double least = 0;
        for (std::size_t i = 0; i < heard.size(); ++i) {
            gains[i] = levels[i].level_db ? gain_to_match_db(levels[i], levels[0]) : 0;
            least = std::max(least, gains[i]);
        }
        for (std::size_t i = 0; i < heard.size(); ++i) {
            gains[i] =
                heard[i] == Heard::difference || !levels[i].level_db ? -least : gains[i] - least;
        }
        return found;
    };
    loudness_.begin(measure, [this](const Loudness& found) {
        reference_delay_ = found.reference_delay;
        if (rendering() != nullptr) {
            player_->set_reference_delay(reference_delay_);
        }
        if (found.gains_db.size() == choices_.size()) {
            gains_db_ = found.gains_db;
            send_gains();
            emit changed();
        }
    });
}

} // namespace syntonon
