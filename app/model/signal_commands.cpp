// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/signal_commands.h"

#include "app/widgets/words.h"
#include "core/exchange/file_digest.h"

#include <algorithm>
#include <system_error>

namespace syntonon {
namespace {

void add(Session& session, Signal signal) {
    if (session.channel() == nullptr) {
        return;
    }
    signal.id = fresh_id(session.study(), signal.name);
    const auto index = static_cast<std::size_t>(session.selection().channel);
    session.edit(tr("Add the signal %1").arg(QString::fromStdString(signal.name)),
                 [&](Study& study) {
                     study.channels[index].edit().bench.signal = signal.id;
                     study.test_signals.emplace_back(std::move(signal));
                 });
}

// "Tone", "Tone 2": names are told apart, too.
std::string fresh_name(const Study& study, const std::string& wish) {
    std::string name = wish;
    const auto is_taken = [&] {
        return std::ranges::any_of(study.test_signals,
                                   [&](const auto& signal) { return signal->name == name; });
    };
    for (int n = 2; is_taken(); ++n) {
        name = wish + " " + std::to_string(n);
    }
    return name;
}

std::string path_from(const std::filesystem::path& folder, const std::filesystem::path& path) {
    std::error_code failed;
    const auto relative = std::filesystem::relative(path, folder, failed);
    const bool is_below =
        !folder.empty() && !failed && !relative.empty() && *relative.begin() != "..";
    return is_below ? relative.string() : std::filesystem::absolute(path).string();
}

QString name_of(const Session& session, const std::string& id) {
    const Signal* signal = signal_of(session.study(), id);
    return signal != nullptr ? QString::fromStdString(signal->name) : QString();
}

} // namespace

SignalLength usual_length(const Recipe& recipe) {
    const auto is = [&]<class... Kinds>(std::variant<Kinds...>*) {
        return (std::holds_alternative<Kinds>(recipe) || ...);
    };
    using Short = std::variant<ImpulseRecipe, StepRecipe, NumbersRecipe, SpikesOnRampRecipe>;
    constexpr double short_samples = 64, long_s = 4, speech_s = 12;
    if (is(static_cast<Short*>(nullptr))) {
        return {LengthUnit::samples, short_samples};
    }
    if (const auto* notes = std::get_if<NotesRecipe>(&recipe); notes && !notes->notes.empty()) {
        const double dies_away_s = 1;
        return {LengthUnit::seconds,
                std::ranges::max(notes->notes, {}, &Note::to_s).to_s + dies_away_s};
    }
    const bool speaks = std::holds_alternative<NarrationRecipe>(recipe)
                        || std::holds_alternative<MixRecipe>(recipe);
    return {LengthUnit::seconds, speaks ? speech_s : long_s};
}

void add_signal(Session& session, const Recipe& recipe) {
    Signal signal{"",
                  fresh_name(session.study(), std::string(title_of(recipe))),
                  usual_length(recipe),
                  recipe,
                  {}};
    // A mix of what was sent before, with something beside it.
    if (auto* mix = std::get_if<MixRecipe>(&signal.recipe)) {
        const auto& known = session.study().test_signals;
        const std::string sent =
            session.channel() != nullptr ? session.channel()->bench.signal : std::string();
        mix->signal = !sent.empty() ? sent : known.empty() ? "" : known.front()->id;
        const auto other =
            std::ranges::find_if(known, [&](const auto& one) { return one->id != mix->signal; });
        mix->disturbance = other != known.end() ? (*other)->id : mix->signal;
        if (const Signal* first = signal_of(session.study(), mix->signal)) {
            signal.length = first->length;
        }
    }
    add(session, std::move(signal));
}

Expected<FoundSound> look_at_sound(const std::filesystem::path& path) {
    const auto reader = SoundReader::open(path);
    if (!reader) {
        return tl::unexpected(reader.error());
    }
    const SoundShape shape = (*reader)->shape();
    if (shape.frames == 0) {
        return refuse(path.string(), "holds no samples", "choose another file");
    }
    const auto digest = digest_of_file(path);
    return FoundSound{path, shape, digest.value_or("")};
}

void add_sound(Session& session, const FoundSound& found, const std::filesystem::path& folder,
               bool convert) {
    const double rate_hz = session.study().sample_rate_hz;
    const SoundShape& shape = found.shape;
    FileRecipe recipe;
    recipe.path = path_from(folder, found.path);
    recipe.digest = found.digest;
    recipe.convert = convert;
    const bool counts_alike = shape.sample_rate_hz == rate_hz
                              && shape.frames <= static_cast<std::int64_t>(most_signal_samples);
    const double most_s = static_cast<double>(most_signal_samples) / rate_hz;
    const double lasts_s = static_cast<double>(shape.frames) / shape.sample_rate_hz;
    const SignalLength length =
        counts_alike ? SignalLength{LengthUnit::samples, static_cast<double>(shape.frames)}
                     : SignalLength{LengthUnit::seconds, std::min(lasts_s, most_s)};
    add(session, {"", fresh_name(session.study(), found.path.stem().string()), length, recipe, {}});
}

void send_signal(Session& session, const std::string& id) {
    session.edit_channel(id.empty() ? tr("Send an impulse")
                                    : tr("Send the signal %1").arg(name_of(session, id)),
                         [&](Channel& channel) { channel.bench.signal = id; });
}

void hold_against(Session& session, const std::string& id) {
    session.edit_channel(id.empty() ? tr("Hold the output against nothing")
                                    : tr("Hold the output against %1").arg(name_of(session, id)),
                         [&](Channel& channel) { channel.bench.reference = id; });
}

void duplicate_signal(Session& session, const std::string& id) {
    if (const Signal* signal = signal_of(session.study(), id)) {
        Signal copy = *signal;
        copy.name = fresh_name(session.study(), signal->name);
        add(session, std::move(copy));
    }
}

void remove_signal(Session& session, const std::string& id) {
    if (signal_of(session.study(), id) == nullptr) {
        return;
    }
    session.edit(tr("Remove the signal %1").arg(name_of(session, id)), [id](Study& study) {
        std::erase_if(study.test_signals, [&](const auto& signal) { return signal->id == id; });
        for (auto& channel : study.channels) {
            if (channel->bench.signal == id || channel->bench.reference == id) {
                Bench& bench = channel.edit().bench;
                bench.signal = bench.signal == id ? "" : bench.signal;
                bench.reference = bench.reference == id ? "" : bench.reference;
            }
        }
    });
}

void edit_signal(Session& session, const std::string& id, const QString& name,
                 const std::function<void(Signal&)>& change, const QString& gesture) {
    if (signal_of(session.study(), id) == nullptr) {
        return;
    }
    session.edit(
        name.contains("%1") ? name.arg(name_of(session, id)) : name,
        [&](Study& study) {
            for (auto& signal : study.test_signals) {
                if (signal->id == id) {
                    change(signal.edit());
                }
            }
        },
        gesture);
}

} // namespace syntonon
