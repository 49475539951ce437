// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/played_voices.h"

#include "core/engine/filter_engine.h"
#include "core/engine/voice_bank.h"
#include "core/filter/form.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>
#include <utility>
#include <variant>

namespace syntonon {
namespace {

constexpr std::size_t group_size = VoiceBank::voices, longest_piece = 64;
constexpr double rises_ms = 2;
using GroupRow = VoiceBank::Row;

// A chain up to its last modelled part, and what follows.
struct PartedChain {
    std::vector<Filter> of_voice;
    Filter behind;
};
std::optional<PartedChain> parted(const Filter& chain) {
    const auto* series = std::get_if<Series>(&chain.form());
    const std::vector<Filter> parts = series != nullptr ? series->parts : std::vector{chain};
    const auto last = std::ranges::find_if(parts.rbegin(), parts.rend(), [](const Filter& part) {
        return model_of(part).has_value();
    });
    if (last == parts.rend()) {
        return std::nullopt;
    }
    PartedChain found;
    found.of_voice.assign(parts.begin(), last.base());
    found.behind = syntonon::series(std::vector(last.base(), parts.end()));
    return found;
}

// As many voices as long FIRs before the last modelled stage leave room for; a group at least.
std::size_t voices_in_memory(const PartedChain& chain) {
    constexpr std::size_t room_bytes = std::size_t(1) << 28, times_in_engine = 4;
    std::size_t of_one = 1;
    for (const Filter& part : chain.of_voice) {
        of_one += model_of(part) ? 0 : times_in_engine * part.bytes();
    }
    return std::max(group_size, room_bytes / of_one);
}

// A part of the chain of eight voices.
struct ModelledPart {
    double frequency_hz = 0; // as it is set
    std::unique_ptr<VoiceBank> bank;
};
using PlainPart = std::array<std::unique_ptr<Engine>, group_size>;
using GroupPart = std::variant<ModelledPart, PlainPart>;

GroupPart part_of(const Filter& filter, double rate_hz) {
    if (const auto model = model_of(filter)) {
        const double hz =
            std::visit([](const auto& made) { return made.knobs.frequency_hz; }, *model);
        return ModelledPart{hz, bank_of(*model, rate_hz)};
    }
    PlainPart engines;
    for (auto& engine : engines) {
        if (auto made = engine_of(filter)) {
            engine = std::move(*made);
        }
    }
    return engines;
}

struct PlayedVoice {
    enum class Source { none, note, key, input } source = Source::none;
    std::size_t which = 0; // note or key
    bool is_held = false;
    double key = middle_key, velocity = 1, turns_per_sample = 0;
    std::uint64_t begun = 0; // the how manieth
    NoteOscillator oscillator;
    Envelope moving, loudness;

    bool sounds() const { return source != Source::none; }
};

struct VoiceGroup {
    std::vector<GroupPart> parts;
    std::array<PlayedVoice, group_size> voices;
    std::array<GroupRow, longest_piece> rows{}, hz_ratio{};

    bool sounds() const { return std::ranges::any_of(voices, &PlayedVoice::sounds); }
};

class VoicesAtWork final : public Computation {
public:
    VoicesAtWork(const PartedChain& chain, const Playing& playing, double rate_hz)
        : playing_(playing), rate_hz_(rate_hz), behind_(engine_of(chain.behind).value()),
          moves_(playing.modulation.moves()) {
        const std::size_t wanted = playing.keys != nullptr ? most_voices
                                   : playing.has_notes     ? playing.notes.size()
                                                           : 1;
        const std::size_t most = std::min(most_voices, voices_in_memory(chain));
        const std::size_t groups =
            (std::clamp(wanted, std::size_t(1), most) + group_size - 1) / group_size;
        for (std::size_t i = 0; i < groups; ++i) {
            groups_.push_back(std::make_unique<VoiceGroup>());
            for (const Filter& part : chain.of_voice) {
                groups_.back()->parts.push_back(part_of(part, rate_hz));
            }
            for (PlayedVoice& voice : groups_.back()->voices) {
                voice.moving.prepare(playing.modulation, rate_hz);
                voice.loudness.prepare({0, rises_ms, 0, 1, playing.modulation.release_ms}, rate_hz);
            }
        }
        for (const Note& note : playing.notes) {
            times_.push_back({sample_at(note.from_s), sample_at(note.to_s)});
        }
        start_again();
    }

    void process(std::span<double> block) noexcept override {
        take_keys();
        while (!block.empty()) {
            const auto piece =
                block.first(std::min({block.size(), longest_piece, until_next_event()}));
            play(piece);
            block = block.subspan(piece.size());
        }
    }
    void reset() noexcept override {
        for (auto& group : groups_) {
            for (std::size_t j = 0; j < group_size; ++j) {
                silence(*group, j);
            }
        }
        behind_->reset();
        start_again();
    }
    void go_to(std::size_t sample) noexcept override {
        at_ = sample;
        if (!playing_.has_notes) {
            begin_input();
            return;
        }
        for (auto& group : groups_) {
            for (PlayedVoice& voice : group->voices) {
                if (voice.source == PlayedVoice::Source::note) {
                    let_go(voice);
                }
            }
        }
        for (std::size_t i = 0; i < times_.size(); ++i) {
            if (times_[i].from < sample && sample < times_[i].to) {
                begin_note(i, sample - times_[i].from);
            }
        }
    }

private:
    struct Times {
        std::size_t from, to;
    };

    std::size_t sample_at(double seconds) const {
        return static_cast<std::size_t>(std::llround(std::min(seconds * rate_hz_, 1e15)));
    }

    void start_again() noexcept {
        at_ = 0;
        begun_ = 0;
        if (playing_.keys != nullptr) {
            for (std::size_t key = 0; key < LiveKeys::count; ++key) {
                keys_[key] = playing_.keys->at(key);
                keys_[key].velocity = 0; // held ones are taken up
                keys_[key].presses -= playing_.keys->at(key).velocity > 0 ? 1 : 0;
            }
        }
        if (!playing_.has_notes) {
            begin_input();
        }
    }

    // From there on to the next note that begins or ends; at least one.
    std::size_t until_next_event() noexcept {
        std::size_t next = at_ + longest_piece;
        if (playing_.has_notes) {
            for (std::size_t i = 0; i < times_.size(); ++i) {
                if (times_[i].from == at_ && times_[i].to > at_) {
                    begin_note(i, 0);
                }
                if (times_[i].to == at_) {
                    end_note(i);
                }
                for (const std::size_t event : {times_[i].from, times_[i].to}) {
                    next = event > at_ ? std::min(next, event) : next;
                }
            }
        }
        return next - at_;
    }

    template <class Visit>
    void for_voices(Visit visit) noexcept {
        for (auto& group : groups_) {
            for (std::size_t j = 0; j < group_size; ++j) {
                visit(*group, j);
            }
        }
    }

    void silence(VoiceGroup& group, std::size_t j) noexcept {
        PlayedVoice& voice = group.voices[j];
        voice.source = PlayedVoice::Source::none;
        voice.is_held = false;
        voice.oscillator.reset();
        voice.moving.reset();
        voice.loudness.reset();
        for (GroupPart& part : group.parts) {
            if (auto* modelled = std::get_if<ModelledPart>(&part)) {
                modelled->bank->reset(j);
            } else if (auto& engine = std::get<PlainPart>(part)[j]) {
                engine->reset();
            }
        }
    }

    // One that is silent, else the one that was let go or begun longest ago.
    PlayedVoice& free_voice() noexcept {
        VoiceGroup* best_group = groups_.front().get();
        std::size_t best = 0;
        const auto rank = [](const PlayedVoice& voice) {
            return std::tuple(voice.sounds(), voice.is_held, voice.begun);
        };
        for_voices([&](VoiceGroup& group, std::size_t j) {
            if (rank(group.voices[j]) < rank(best_group->voices[best])) {
                best_group = &group;
                best = j;
            }
        });
        silence(*best_group, best);
        return best_group->voices[best];
    }

    void begin(PlayedVoice::Source source, std::size_t which, double key, double velocity,
               std::size_t late) noexcept {
        PlayedVoice& voice = free_voice();
        voice.source = source;
        voice.which = which;
        voice.is_held = true;
        voice.key = key;
        voice.velocity = velocity;
        voice.turns_per_sample = std::min(hz_of_key(key) / rate_hz_, 0.49);
        voice.begun = ++begun_;
        voice.moving.begin();
        voice.loudness.begin();
        for (std::size_t n = 0; n < late; ++n) { // it has been sounding for so long
            voice.moving.next();
            voice.loudness.next();
            voice.oscillator.next(playing_.wave, voice.turns_per_sample);
        }
    }
    void begin_note(std::size_t i, std::size_t late) noexcept {
        const Note& note = playing_.notes[i];
        begin(PlayedVoice::Source::note, i, note.key, note.velocity, late);
    }
    void begin_input() noexcept {
        PlayedVoice& voice = groups_.front()->voices.front();
        voice.source = PlayedVoice::Source::input;
        voice.is_held = true;
        voice.moving.begin();
    }
    static void let_go(PlayedVoice& voice) noexcept {
        voice.is_held = false;
        voice.moving.release();
        voice.loudness.release();
    }
    void end(PlayedVoice::Source source, std::size_t which) noexcept {
        for_voices([&](VoiceGroup& group, std::size_t j) {
            PlayedVoice& voice = group.voices[j];
            if (voice.source == source && voice.which == which && voice.is_held) {
                let_go(voice);
            }
        });
    }
    void end_note(std::size_t i) noexcept { end(PlayedVoice::Source::note, i); }

    void take_keys() noexcept {
        if (playing_.keys == nullptr) {
            return;
        }
        for (std::size_t key = 0; key < LiveKeys::count; ++key) {
            const LiveKeys::State now = playing_.keys->at(key);
            if (now == keys_[key]) {
                continue;
            }
            end(PlayedVoice::Source::key, key);
            if (now.velocity > 0) {
                begin(PlayedVoice::Source::key, key, static_cast<double>(key), now.velocity, 0);
            }
            keys_[key] = now;
        }
    }

    double octaves_of(PlayedVoice& voice, double oscillator) noexcept {
        constexpr double keys_an_octave = 12;
        const Modulation& m = playing_.modulation;
        return m.envelope_oct * voice.moving.next() + m.oscillator_oct * oscillator
               + m.velocity_oct * voice.velocity
               + m.keyboard * (voice.key - middle_key) / keys_an_octave;
    }

    void play(std::span<double> piece) noexcept {
        std::array<double, longest_piece> sum{};
        for (auto& group : groups_) {
            if (group->sounds()) {
                fill(*group, piece);
                filter(*group, piece.size());
                add_up(*group, std::span(sum).first(piece.size()));
            }
        }
        std::copy_n(sum.begin(), piece.size(), piece.begin());
        behind_->process(piece);
        at_ += piece.size();
    }

    void fill(VoiceGroup& group, std::span<const double> in) noexcept {
        const Modulation& m = playing_.modulation;
        for (std::size_t n = 0; n < in.size(); ++n) {
            const double turn = m.oscillator_hz * static_cast<double>(at_ + n) / rate_hz_;
            const double oscillator = m.oscillator_oct != 0 ? value_of(m.oscillator_wave, turn) : 0;
            for (std::size_t j = 0; j < group_size; ++j) {
                PlayedVoice& voice = group.voices[j];
                if (!voice.sounds()) {
                    group.rows[n][j] = 0;
                    group.hz_ratio[n][j] = 1;
                    continue;
                }
                group.rows[n][j] =
                    voice.source == PlayedVoice::Source::input
                        ? in[n]
                        : playing_.peak * voice.velocity
                              * voice.oscillator.next(playing_.wave, voice.turns_per_sample);
                group.hz_ratio[n][j] = moves_ ? std::exp2(octaves_of(voice, oscillator)) : 1;
            }
        }
    }

    void filter(VoiceGroup& group, std::size_t count) noexcept {
        for (GroupPart& part : group.parts) {
            if (auto* modelled = std::get_if<ModelledPart>(&part)) {
                run_modelled(*modelled, group, count);
            } else {
                run_plain(std::get<PlainPart>(part), group, count);
            }
        }
    }

    void run_modelled(ModelledPart& part, VoiceGroup& group, std::size_t count) const noexcept {
        if (!moves_) {
            part.bank->process(group.rows.data(), count);
            return;
        }
        for (std::size_t n = 0; n < count; ++n) {
            GroupRow hz;
            for (std::size_t j = 0; j < group_size; ++j) {
                hz[j] = part.frequency_hz * group.hz_ratio[n][j];
            }
            part.bank->set_frequencies(hz);
            part.bank->process(&group.rows[n], 1);
        }
    }

    static void run_plain(PlainPart& part, VoiceGroup& group, std::size_t count) noexcept {
        std::array<double, longest_piece> column{};
        for (std::size_t j = 0; j < group_size; ++j) {
            if (!group.voices[j].sounds() || part[j] == nullptr) {
                continue;
            }
            for (std::size_t n = 0; n < count; ++n) {
                column[n] = group.rows[n][j];
            }
            part[j]->process(std::span(column).first(count));
            for (std::size_t n = 0; n < count; ++n) {
                group.rows[n][j] = column[n];
            }
        }
    }

    void add_up(VoiceGroup& group, std::span<double> sum) noexcept {
        for (std::size_t j = 0; j < group_size; ++j) {
            PlayedVoice& voice = group.voices[j];
            if (!voice.sounds()) {
                continue;
            }
            for (std::size_t n = 0; n < sum.size(); ++n) {
                const double loudness =
                    voice.source == PlayedVoice::Source::input ? 1 : voice.loudness.next();
                sum[n] += loudness * group.rows[n][j];
            }
            if (voice.source != PlayedVoice::Source::input && voice.loudness.is_idle()) {
                silence(group, j);
            }
        }
    }

    Playing playing_;
    double rate_hz_;
    std::unique_ptr<Engine> behind_;
    bool moves_;
    std::vector<std::unique_ptr<VoiceGroup>> groups_;
    std::vector<Times> times_; // of the notes
    std::array<LiveKeys::State, LiveKeys::count> keys_{};
    std::size_t at_ = 0;
    std::uint64_t begun_ = 0;
};

class WayOfPlaying final : public WayOfComputing {
public:
    WayOfPlaying(Filter whole, PartedChain chain, Playing playing, double rate_hz)
        : whole_(std::move(whole)), chain_(std::move(chain)), playing_(std::move(playing)),
          rate_hz_(rate_hz) {}

    std::unique_ptr<Computation> start() const override {
        return std::make_unique<VoicesAtWork>(chain_, playing_, rate_hz_);
    }
    bool is_like(const WayOfComputing& other) const override {
        const auto* same = dynamic_cast<const WayOfPlaying*>(&other);
        return same != nullptr && same->playing_ == playing_ && same->rate_hz_ == rate_hz_
               && same->whole_ == whole_;
    }
    std::size_t bytes() const override {
        return sizeof(WayOfPlaying) + playing_.notes.size() * sizeof(Note);
    }

private:
    Filter whole_;
    PartedChain chain_;
    Playing playing_;
    double rate_hz_;
};

} // namespace

Filter as_played(const Filter& chain, const Playing& playing, double sample_rate_hz) {
    if (!playing.has_notes && !playing.modulation.moves()) {
        return chain;
    }
    auto found = parted(chain);
    if (!found) {
        return chain;
    }
    return Computed{chain, std::make_shared<const WayOfPlaying>(chain, std::move(*found), playing,
                                                                sample_rate_hz)};
}

} // namespace syntonon
