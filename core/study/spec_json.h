// Each kind of stage in JSON. A kind adds its pair here.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/json.h"
#include "core/study/json_reader.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <complex>
#include <initializer_list>

namespace syntonon {

void read_spec(ObjectReader& object, ParametricSpec& spec);
void write_spec(Json& object, const ParametricSpec& spec);
void read_spec(ObjectReader& object, ClassicalSpec& spec);
void write_spec(Json& object, const ClassicalSpec& spec);
void read_spec(ObjectReader& object, RootsSpec& spec);
void write_spec(Json& object, const RootsSpec& spec);
void read_spec(ObjectReader& object, RecursionSpec& spec);
void write_spec(Json& object, const RecursionSpec& spec);
void read_spec(ObjectReader& object, GainSpec& spec);
void write_spec(Json& object, const GainSpec& spec);
void read_spec(ObjectReader& object, DelaySpec& spec);
void write_spec(Json& object, const DelaySpec& spec);
void read_spec(ObjectReader& object, SplitSpec& spec);
void write_spec(Json& object, const SplitSpec& spec);
void read_spec(ObjectReader& object, RepeatSpec& spec);
void write_spec(Json& object, const RepeatSpec& spec);
void read_spec(ObjectReader& object, LoopSpec& spec);
void write_spec(Json& object, const LoopSpec& spec);
void read_spec(ObjectReader& object, FirSpec& spec);
void write_spec(Json& object, const FirSpec& spec);
void read_spec(ObjectReader& object, CorrectionSpec& spec);
void write_spec(Json& object, const CorrectionSpec& spec);
void read_spec(ObjectReader& object, FittedSpec& spec);
void write_spec(Json& object, const FittedSpec& spec);
void read_spec(ObjectReader& object, CrossoverSpec& spec);
void write_spec(Json& object, const CrossoverSpec& spec);
void read_spec(ObjectReader& object, StateVariableSpec& spec);
void write_spec(Json& object, const StateVariableSpec& spec);
void read_spec(ObjectReader& object, LadderSpec& spec);
void write_spec(Json& object, const LadderSpec& spec);
void read_spec(ObjectReader& object, TapsSpec& spec);
void write_spec(Json& object, const TapsSpec& spec);

// "window", "window_parameter", "window_points".
void read_window(ObjectReader& object, Window& window);
void write_window(Json& object, const Window& window);

// [[re, im], ...]
Json complex_numbers_json(const std::vector<std::complex<double>>& numbers);

// A list of stages, for kinds that hold some. That ids are unique is seen to at the top.
Chain read_chain(ObjectReader& object, std::string_view key);
Json chain_json(const Chain& chain);

// The numbers of a kind by its list of fields: those that are there are set, those that apply are
// written. `given` counts how many of `keys` were there.
template <class Spec>
int read_fields(ObjectReader& object, Spec& spec, std::initializer_list<std::string_view> keys) {
    int given = 0;
    for (const auto& field : fields_of(spec)) {
        if (std::ranges::find(keys, field.key) != keys.end()) {
            if (const auto value = object.optional_number(field.key)) {
                field.set(spec, *value);
                ++given;
            }
        }
    }
    return given;
}
template <class Spec>
void write_fields(Json& object, const Spec& spec) {
    for (const auto& field : fields_of(spec)) {
        if (const auto value = field.get(spec)) {
            object.set(field.key, *value);
        }
    }
}

} // namespace syntonon
