// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/signal_json.h"

#include "core/base/json_view.h"
#include "core/signal/notes_text.h"
#include "core/study/named_json.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::array paces =
    std::to_array<NamedValue<SweepPace>>({{SweepPace::exponential, "exponential", "equal ratios"},
                                          {SweepPace::linear, "linear", "equal steps"}});

// --- what a kind has besides its numbers ---

template <class Spec>
void read_rest(ObjectReader&, Spec&) {}
template <class Spec>
void write_rest(Json&, const Spec&) {}

void read_rest(ObjectReader& object, SweptToneRecipe& spec) {
    read_named<SweepPace>(object, "pace", paces, spec.pace);
}
void write_rest(Json& object, const SweptToneRecipe& spec) {
    object.set("pace", key_of_named<SweepPace>(paces, spec.pace));
}

void read_rest(ObjectReader& object, SawChordRecipe& spec) {
    if (object.has("frequencies_hz")) {
        spec.frequencies_hz = object.numbers("frequencies_hz");
    }
}
void write_rest(Json& object, const SawChordRecipe& spec) {
    object.set("frequencies_hz", Json::numbers(spec.frequencies_hz));
}

void read_rest(ObjectReader& object, NotesRecipe& spec) {
    read_named(object, "wave", names_of_note_waves(), spec.wave);
    if (!object.has("notes")) {
        return;
    }
    spec.notes.clear();
    object.each("notes", [&](ObjectReader reader) {
        Note note;
        note.key = reader.number("key");
        note.from_s = reader.number_or("from_s", 0);
        note.to_s = reader.number("to_s");
        note.velocity = reader.number_or("velocity", note.velocity);
        if (auto ok = check_note(note); !ok && !reader.log().problem) {
            reader.fail(ok.error().place, ok.error().reason, ok.error().way_out);
        }
        spec.notes.push_back(note);
    });
    if (auto ok = check_note_count(spec.notes.size()); !ok && !object.log().problem) {
        object.fail(ok.error().place, ok.error().reason, ok.error().way_out);
    }
}
void write_rest(Json& object, const NotesRecipe& spec) {
    object.set("wave", key_of_named(names_of_note_waves(), spec.wave));
    object.set("notes", list_json(spec.notes, [](const Note& note) {
                   Json json;
                   json.set("key", note.key).set("from_s", note.from_s).set("to_s", note.to_s);
                   json.set("velocity", note.velocity);
                   return json;
               }));
}

void read_rest(ObjectReader& object, NumbersRecipe& spec) {
    spec.values = object.numbers("values");
}
void write_rest(Json& object, const NumbersRecipe& spec) {
    object.set("values", Json::numbers(spec.values));
}

void read_rest(ObjectReader& object, FileRecipe& spec) {
    spec.path = object.text("path");
    spec.digest = object.text_or("digest", "");
    spec.convert = object.boolean_or("convert", false);
}
void write_rest(Json& object, const FileRecipe& spec) {
    object.set("path", spec.path);
    if (!spec.digest.empty()) {
        object.set("digest", spec.digest);
    }
    if (spec.convert) {
        object.set("convert", true);
    }
}

void read_rest(ObjectReader& object, MixRecipe& spec) {
    spec.signal = object.text("signal");
    spec.disturbance = object.text("disturbance");
}
void write_rest(Json& object, const MixRecipe& spec) {
    object.set("signal", spec.signal).set("disturbance", spec.disturbance);
}

// --- any kind ---

Recipe read_recipe(ObjectReader& object) {
    const std::string kind = object.text("kind");
    const auto all = all_recipes();
    const auto known =
        std::ranges::find(all, kind, [](const Recipe& recipe) { return kind_of(recipe); });
    if (known == all.end()) {
        std::string kinds;
        for (const Recipe& recipe : all) {
            kinds += (kinds.empty() ? "" : ", ") + std::string(kind_of(recipe));
        }
        object.fail("kind",
                    fmt::format("“{}” is not a kind of signal that this version knows", kind),
                    "use one of: " + kinds);
        return {};
    }
    Recipe recipe = *known;
    std::visit(
        [&](auto& spec) {
            for (const auto& field : fields_of(spec)) {
                if (!object.has(field.key)) {
                    continue;
                }
                field.set(spec, field.steps == FieldSteps::whole ? object.integer_or(field.key, 0)
                                                                 : object.number(field.key));
            }
            read_rest(object, spec);
            if (auto ok = check_fields(spec); !ok && !object.log().problem) {
                object.fail(ok.error().place, ok.error().reason, ok.error().way_out);
            }
        },
        recipe);
    return recipe;
}

SignalLength read_length(ObjectReader& object) {
    SignalLength length;
    const auto seconds = object.optional_number("length_s");
    const auto samples = object.optional_number("length_samples");
    if (seconds && samples) {
        object.fail("length_samples", "says what length_s says, too", "keep the one you mean");
    }
    if (samples) {
        length = {LengthUnit::samples, *samples};
    } else if (seconds) {
        length.value = *seconds;
    }
    if (!(length.value > 0)) {
        object.fail(samples ? "length_samples" : "length_s", "is not a length", "give more than 0");
    }
    return length;
}

} // namespace

void read_modulation(ObjectReader object, Modulation& modulation) {
    for (const auto& field : fields_of(modulation)) {
        if (const auto value = object.optional_number(field.key)) {
            field.set(modulation, *value);
        }
    }
    read_named(object, "oscillator_wave", names_of_modulation_waves(), modulation.oscillator_wave);
    if (auto ok = check_fields(modulation); !ok && !object.log().problem) {
        object.fail(ok.error().place, ok.error().reason, ok.error().way_out);
    }
}

Json modulation_json(const Modulation& modulation) {
    Json object;
    for (const auto& field : fields_of(modulation)) {
        object.set(field.key, *field.get(modulation));
    }
    return object.set("oscillator_wave",
                      key_of_named(names_of_modulation_waves(), modulation.oscillator_wave));
}

Signal read_signal(ObjectReader object) {
    Signal signal;
    signal.id = object.text("id");
    signal.name = object.text_or("name", signal.id);
    signal.length = read_length(object);
    signal.recipe = read_recipe(object);
    signal.unknown = object.unknown();
    return signal;
}

Json signal_json(const Signal& signal) {
    Json object;
    object.set("id", signal.id).set("name", signal.name);
    object.set("kind", kind_of(signal.recipe));
    object.set(signal.length.unit == LengthUnit::samples ? "length_samples" : "length_s",
               signal.length.value);
    std::visit(
        [&](const auto& spec) {
            for (const auto& field : fields_of(spec)) {
                if (const auto value = field.get(spec)) {
                    object.set(field.key, *value);
                }
            }
            write_rest(object, spec);
        },
        signal.recipe);
    return object.set_unknown(signal.unknown);
}

Expected<Recipe> recipe_from_json(std::string_view text) {
    const auto json = checked_json(text);
    if (!json) {
        return tl::unexpected(json.error());
    }
    ReadLog log;
    ObjectReader object(*json, "", log);
    Recipe recipe = read_recipe(object);
    if (!log.problem) {
        const UnknownKeys unknown = object.unknown();
        if (!unknown.empty()) {
            return refuse("", fmt::format("{} has no “{}”", kind_of(recipe), unknown.members()),
                          "see docs/file-formats.md for its fields");
        }
        return recipe;
    }
    return tl::unexpected(*log.problem);
}

} // namespace syntonon
