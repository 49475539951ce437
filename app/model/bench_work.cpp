// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/bench_work.h"

#include "core/engine/render.h"
#include "core/exchange/study_signal.h"
#include "core/filter/form.h"
#include "core/signal/against_reference.h"
#include "core/signal/make_signal.h"
#include "core/study/compared_chain.h"
#include "core/study/playing.h"

#include <algorithm>

namespace syntonon {
namespace {

constexpr std::size_t most_tail = std::size_t(1) << 19;
constexpr std::size_t at_once = 1 << 15; // samples that are made while the window waits

SharedSamples kept(std::vector<double> values) {
    return std::make_shared<const KeptSamples>(std::move(values));
}

bool is_quick(const Study& study, const Bench& bench) {
    const auto quick = [&](const std::string& id) {
        const Signal* signal = signal_of(study, id);
        if (signal == nullptr) {
            return true;
        }
        const bool stands_alone = !std::holds_alternative<FileRecipe>(signal->recipe)
                                  && !std::holds_alternative<MixRecipe>(signal->recipe);
        const auto length = samples_of(signal->length, study.sample_rate_hz);
        return stands_alone && length && *length <= at_once;
    };
    return quick(bench.signal) && quick(bench.reference);
}

bool is_quick(const Filter& chain, std::size_t samples, bool with_tail) {
    constexpr double while_waiting = 2e7; // products
    const std::size_t all = samples + (with_tail ? memory_samples(chain, 300, most_tail) : 0);
    constexpr double of_words = 40; // times as long, a product
    const double each = std::holds_alternative<Computed>(chain.form()) ? of_words : 1;
    return static_cast<double>(all) * (1 + each * chain.cost().multiplies) < while_waiting;
}

} // namespace

std::span<const double> BenchStretch::values(Track track) const {
    return part_of(tracks[index_of(track)]->values());
}

std::span<const double> BenchStretch::part_of(std::span<const double> all) const {
    const std::size_t from = std::min(span.first, all.size());
    return all.subspan(from, std::min(span.second, all.size()) - from);
}

std::size_t samples_in(const BenchStretch& stretch) {
    std::size_t samples = stretch.length();
    for (const SharedSamples& tail : stretch.tails) {
        samples += tail->values().size();
    }
    return samples;
}

Signal signal_of_itself() {
    constexpr double shown = 64;
    return {"", "Impulse", {LengthUnit::samples, shown}, ImpulseRecipe(), {}};
}

Signal signal_sent(const Session& session) {
    const Channel* channel = session.channel();
    const Signal* chosen =
        channel != nullptr ? signal_of(session.study(), channel->bench.signal) : nullptr;
    return chosen != nullptr ? *chosen : signal_of_itself();
}

SpectrumScale usual_scale(const Recipe& recipe) {
    const auto is_any = [&]<class... Kinds>(std::variant<Kinds...>*) {
        return (std::holds_alternative<Kinds>(recipe) || ...);
    };
    using Transients = std::variant<ImpulseRecipe, StepRecipe, NumbersRecipe, SweptToneRecipe>;
    using Tones = std::variant<ToneRecipe, SteppedToneRecipe, MultiToneRecipe, SawChordRecipe,
                               NotesRecipe, PulseTrainRecipe, ToneBurstRecipe, OffsetRecipe>;
    if (is_any(static_cast<Transients*>(nullptr))) {
        return SpectrumScale::ratio;
    }
    return is_any(static_cast<Tones*>(nullptr)) ? SpectrumScale::tone_level
                                                : SpectrumScale::density;
}

BenchWork::BenchWork(Session& session, std::function<std::filesystem::path()> folder,
                     QObject* parent)
    : QObject(parent), session_(session), folder_(std::move(folder)), signal_(signal_of_itself()) {
    tracks_.fill(kept({}));
    tails_.fill(kept({}));
    connect(&session_, &Session::study_changed, this, &BenchWork::refresh);
    connect(&session_, &Session::analysis_changed, this, &BenchWork::refresh);
}

QString BenchWork::word_for(Track track) const {
    switch (track) {
    case Track::in:
        return tr("in");
    case Track::out:
        return tr("out");
    case Track::reference:
        return tr("reference");
    case Track::difference:
        return tr("difference");
    case Track::first_compared:
    case Track::second_compared:
        break;
    }
    constexpr int longest = 18;
    const QString name = chain_name(session_, compared(track));
    return name.size() > longest ? name.left(longest - 1) + QStringLiteral("…") : name;
}

QString BenchWork::name_of(Track track) const {
    switch (track) {
    case Track::in:
        return QString::fromStdString(signal_.name);
    case Track::out:
        return tr("chain of %1").arg(channel_name_);
    case Track::difference:
        return tr("out less reference");
    case Track::reference:
        return reference_name_;
    case Track::first_compared:
    case Track::second_compared:
        break;
    }
    if (compared(track).starts_with("words:")) {
        return runs_.at(run_index(track)).is_out_of_date
                   ? tr("%1 in the nearest words: those searched are out of date")
                         .arg(channel_name_)
                   : tr("%1 run in words").arg(channel_name_);
    }
    if (compared(track) == key_of_state_variables) {
        return tr("%1, state-variable filters for its ladders").arg(channel_name_);
    }
    return compared(track).starts_with("take:") ? tr("take of %1").arg(channel_name_)
                                                : tr("chain of that channel");
}

bool BenchWork::is_wished(Track track) const {
    const bool is_there = !values(track).empty() || !problem(track).isEmpty();
    return is_there || track == Track::in || track == Track::out || !compared(track).empty();
}

bool BenchWork::is_busy() const {
    return making_.is_busy() || differing_.is_busy()
           || std::ranges::any_of(runs_, [](const ChainRun& run) { return run.work.is_busy(); });
}

void BenchWork::set_watched(bool watched) {
    if (watched_ != watched) {
        watched_ = watched;
        refresh();
    }
}

void BenchWork::set_span(std::optional<Span> span) {
    if (span) {
        span->second = std::min(span->second, length());
        span->first = std::min(span->first, span->second);
        if (span->first == span->second) {
            span.reset();
        }
    }
    if (span_ != span) {
        span_ = span;
        emit span_changed();
    }
}

BenchStretch BenchWork::stretch() const {
    BenchStretch made{tracks_, tails_, {}, span_or_all(), rate_hz_};
    for (const Track track : chain_tracks) {
        made.chains[index_of(track)] = runs_.at(run_index(track)).chain;
    }
    return made;
}

void BenchWork::refresh() {
    if (!watched_) {
        return;
    }
    const Study& study = session_.study();
    const Channel* channel = session_.channel();
    const Source source{study.test_signals, channel != nullptr ? channel->bench : Bench(),
                        study.sample_rate_hz, folder_()};
    channel_name_ = channel != nullptr ? QString::fromStdString(channel->name) : QString();
    keys_.fill({});
    for (std::size_t k = 0; k < std::min(source.bench.compared.size(), most_compared); ++k) {
        keys_.at(index_of(Track::first_compared) + k) = source.bench.compared[k];
    }
    const bool same_inputs = source_ && source_->makes_same(source);
    source_ = source;
    if (same_inputs) {
        run_chains();
        return;
    }
    make_inputs();
}

void BenchWork::make_inputs() {
    const Study& study = session_.study();
    const Bench& bench = source_->bench;
    const Signal sent = signal_sent(session_);
    const auto make = [study, bench, sent, folder = source_->folder](const Watch& watch) {
        Inputs made{kept({}), kept({}), {}};
        const auto one = [&](const std::string& id) -> Expected<SharedSamples> {
            auto found = samples_of_signal(study, id, folder, watch);
            if (!found) {
                return tl::unexpected(found.error());
            }
            for (const std::string& remark : found->remarks) {
                made.remarks << QString::fromStdString(remark);
            }
            return kept(std::move(found->samples));
        };
        if (bench.signal.empty()) {
            const SignalExtent extent{study.sample_rate_hz,
                                      *samples_of(sent.length, study.sample_rate_hz)};
            made.in = make_signal(sent.recipe, extent).map(kept);
        } else {
            made.in = one(bench.signal);
        }
        if (!bench.reference.empty()) {
            made.reference = one(bench.reference);
        }
        made.remarks.removeDuplicates();
        return made;
    };
    signal_ = sent;
    const Signal* reference = signal_of(study, bench.reference);
    reference_name_ = reference != nullptr ? QString::fromStdString(reference->name) : QString();
    rate_hz_ = study.sample_rate_hz;
    if (is_quick(study, bench)) {
        making_.stop();
        take_inputs(make(Watch()));
    } else {
        making_.begin(make, [this](Inputs inputs) { take_inputs(std::move(inputs)); });
        emit changed();
    }
}

void BenchWork::keep(Track track, const Expected<SharedSamples>& made) {
    tracks_[index_of(track)] = made ? *made : kept({});
    problems_[index_of(track)] = made ? QString() : QString::fromStdString(to_text(made.error()));
}

void BenchWork::take_inputs(Inputs inputs) {
    keep(Track::in, inputs.in);
    keep(Track::reference, inputs.reference);
    remarks_ = std::move(inputs.remarks);
    if (span_ && span_->second > length()) {
        span_.reset();
        emit span_changed();
    }
    // What came out of another signal is not shown below this one.
    for (const Track track : chain_tracks) {
        leave_out(track, {});
    }
    run_chains();
}

Expected<ChainCompared> BenchWork::chain_of(Track track) const {
    const auto analysis = session_.analysis();
    const auto problem = [](const QString& reason) {
        return tl::unexpected(Problem{"", reason.toStdString(), ""});
    };
    if (analysis == nullptr || session_.channel() == nullptr) {
        return problem(tr("there is no chain to send it through"));
    }
    if (session_.axis().is_analog()) {
        return problem(
            tr("an analog channel has no samples: map it into a sampled one to hear it"));
    }
    auto found = track == Track::out ? ChainCompared{analysis->chain}
                                     : chain_compared(session_, compared(track));
    return found.map([this](const ChainCompared& chain) {
        return ChainCompared{as_heard(chain.chain), chain.is_out_of_date};
    });
}

Filter BenchWork::as_heard(const Filter& chain, std::shared_ptr<const LiveKeys> keys) const {
    const Channel* channel = session_.channel();
    Playing playing =
        playing_of(signal_.recipe, channel != nullptr ? channel->bench.modulation : Modulation());
    playing.keys = playing.has_notes ? std::move(keys) : nullptr;
    return as_played(chain, playing, session_.study().sample_rate_hz);
}

void BenchWork::leave_out(Track track, const QString& problem) {
    run_of(track).work.stop();
    run_of(track).chain.reset();
    tracks_[index_of(track)] = tails_[index_of(track)] = kept({});
    problems_[index_of(track)] = problem;
    if (track == Track::out) {
        make_difference();
    }
}

void BenchWork::run_chains() {
    for (const Track track : chain_tracks) {
        const bool wished = track == Track::out || !compared(track).empty();
        if (!wished || length() == 0) {
            leave_out(track, {});
        } else {
            run_chain(track);
        }
    }
    emit changed();
}

void BenchWork::run_chain(Track track) {
    const auto chain = chain_of(track);
    if (!chain) {
        leave_out(track, QString::fromStdString(to_text(chain.error())));
        return;
    }
    const SharedSamples in = samples(Track::in);
    ChainRun& last = run_of(track);
    last.is_out_of_date = chain->is_out_of_date;
    if (last.chain && *last.chain == chain->chain && last.on == in) {
        return;
    }
    last.chain = chain->chain;
    last.on = in;
    const bool transient = usual_scale(signal_.recipe) == SpectrumScale::ratio;
    // Its extremes, too, are looked for beside the window.
    struct Ran {
        SharedSamples out, tail;
        bool runs_away;
    };
    const auto run = [chain = chain->chain, in, transient](const Watch& watch) {
        return render(chain, in->values(), transient ? most_tail : 0, watch)
            .map([](Rendered rendered) {
                return Ran{kept(std::move(rendered.out)), kept(std::move(rendered.tail)),
                           rendered.runs_away_at.has_value()};
            });
    };
    const auto take = [this, track](const Expected<Ran>& ran) {
        keep(track, ran.map([](const Ran& made) { return made.out; }));
        tails_[index_of(track)] = ran ? ran->tail : kept({});
        if (ran && ran->runs_away) {
            problems_[index_of(track)] = tr("◇ grows without end: the chain is unstable");
        }
        if (track == Track::out) {
            make_difference();
        }
    };
    if (is_quick(chain->chain, in->values().size(), transient)) {
        last.work.stop();
        take(run(Watch()));
    } else {
        last.work.begin(run, [this, take](const Expected<Ran>& ran) {
            take(ran);
            emit changed();
        });
    }
}

void BenchWork::show_difference(bool shows) {
    shows_difference_ = shows;
    make_difference();
    emit changed();
}

void BenchWork::make_difference() {
    const SharedSamples out = samples(Track::out), reference = samples(Track::reference);
    if (!shows_difference_ || out->values().empty() || reference->values().empty()) {
        differing_.stop();
        keep(Track::difference, kept({}));
        return;
    }
    differing_.begin(
        [out, reference](const Watch&) {
            const auto found = against_reference(out->values(), reference->values());
            return kept(difference_of(out->values(), reference->values(),
                                      found ? found->delay_samples : 0));
        },
        [this](const SharedSamples& difference) {
            keep(Track::difference, difference);
            emit changed();
        });
}

} // namespace syntonon
