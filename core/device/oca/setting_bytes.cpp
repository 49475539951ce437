// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/setting_bytes.h"

#include "core/device/oca/bytes.h"
#include "core/device/oca/setting_numbers.h"

#include <fmt/format.h>
#include <limits>
#include <utility>

namespace syntonon::oca {
namespace {

constexpr std::uint8_t muted = 1, unmuted = 2, straight = 1, inverted = 2;
// All parameters of SetMultiple: bits of either end of the mask.
constexpr std::uint16_t all_parameters = 0xffff;

struct Bounded {
    float value = 0;
    Range range;
};
Bounded bounded(Reader& in) {
    Bounded got;
    got.value = in.f32();
    // Some answer with the value alone.
    got.range = in.left() > 0 ? Range{in.f32(), in.f32()}
                              : Range{std::numeric_limits<float>::lowest(),
                                      std::numeric_limits<float>::max()};
    return got;
}

template <class Enum>
Enum enum_up_to(Reader& in, Enum greatest, std::uint8_t least = 0) {
    const std::uint8_t value = in.u8();
    if (value < least || value > static_cast<std::uint8_t>(greatest)) {
        in.fail();
    }
    return static_cast<Enum>(value);
}

bool one_of(Reader& in, std::uint8_t yes, std::uint8_t no) {
    const std::uint8_t value = in.u8();
    if (value != yes && value != no) {
        in.fail();
    }
    return value == yes;
}

// Answers one after the other, each to its end.
class Answers {
public:
    explicit Answers(const std::vector<Parameters>& all) : all_(all) {}

    // Reads the next one by `read(Reader&)`.
    template <class Read>
    auto next(Read read) {
        Reader in(next_ < all_.size() ? ByteView(all_[next_].bytes) : ByteView());
        ++next_;
        auto value = read(in);
        ok_ = ok_ && in.is_at_end();
        return value;
    }
    Bounded number() { return next(bounded); }
    bool ok() const { return ok_; }

private:
    const std::vector<Parameters>& all_;
    std::size_t next_ = 0;
    bool ok_ = true;
};

ObjectState parametric_state(Answers& answers) {
    const Bounded frequency = answers.number();
    const auto form = answers.next([](Reader& in) { return static_cast<ParametricForm>(in.u8()); });
    const Bounded width = answers.number(), gain = answers.number(), parameter = answers.number();
    Limits limits;
    limits.frequency_hz = frequency.range;
    limits.width = width.range;
    limits.gain_db = gain.range;
    limits.form_parameter = parameter.range;
    return {ParametricSetting{frequency.value, form, width.value, gain.value, parameter.value},
            limits};
}

ObjectState classical_state(Answers& answers) {
    const Bounded frequency = answers.number();
    ClassicalSetting setting;
    setting.frequency_hz = frequency.value;
    setting.passband =
        answers.next([](Reader& in) { return enum_up_to(in, Passband::all_pass, 1); });
    setting.form =
        answers.next([](Reader& in) { return enum_up_to(in, ClassicalForm::linkwitz_riley, 1); });
    Limits limits;
    limits.frequency_hz = frequency.range;
    answers.next([&](Reader& in) {
        setting.order = in.u16();
        const float least = in.u16();
        limits.order = Range{least, static_cast<float>(in.u16())};
        return 0;
    });
    const Bounded parameter = answers.number();
    setting.parameter = parameter.value;
    limits.form_parameter = parameter.range;
    return {setting, limits};
}

ObjectState polynomial_state(Answers& answers) {
    PolynomialSetting setting;
    answers.next([&](Reader& in) {
        setting.numerator = in.floats();
        setting.denominator = in.floats();
        return 0;
    });
    Limits limits;
    limits.sample_rate_hz = answers.number().value;
    limits.most_order = answers.next([](Reader& in) { return std::size_t(in.u8()); });
    return {setting, limits};
}

ObjectState fir_state(Answers& answers) {
    Limits limits;
    limits.taps = answers.next([](Reader& in) {
        const std::size_t length = in.u32();
        const std::size_t greatest = in.left() > 0 ? (in.u32(), in.u32()) : length;
        return std::max(length, greatest);
    });
    FirSetting setting{answers.next([](Reader& in) { return in.floats(); })};
    limits.sample_rate_hz = answers.number().value;
    return {setting, limits};
}

CurveSetting curve_in(Reader& in) {
    CurveSetting setting{in.floats(), in.floats(), in.floats()};
    if (setting.amplitude.size() != setting.frequency_hz.size()
        || setting.phase_rad.size() != setting.frequency_hz.size()) {
        in.fail();
    }
    return setting;
}

ObjectState curve_state(Answers& answers) {
    const CurveSetting setting = answers.next(curve_in);
    Limits limits;
    limits.sample_rate_hz = answers.number().value;
    limits.least_points = answers.next([](Reader& in) { return std::size_t(in.u16()); });
    limits.most_points = answers.next([](Reader& in) { return std::size_t(in.u16()); });
    return {setting, limits};
}

ObjectState state_of(Kind kind, Answers& answers) {
    Limits limits;
    switch (kind) {
    case Kind::mute:
        return {MuteSetting{answers.next([](Reader& in) { return one_of(in, muted, unmuted); })},
                {}};
    case Kind::polarity:
        return {PolaritySetting{
                    answers.next([](Reader& in) { return one_of(in, inverted, straight); })},
                {}};
    case Kind::gain: {
        const Bounded gain = answers.number();
        limits.gain_db = gain.range;
        return {GainSetting{gain.value}, limits};
    }
    case Kind::delay: {
        const Bounded delay = answers.number();
        limits.delay_s = delay.range;
        return {DelaySetting{delay.value}, limits};
    }
    case Kind::parametric_filter:
        return parametric_state(answers);
    case Kind::classical_filter:
        return classical_state(answers);
    case Kind::polynomial_filter:
        return polynomial_state(answers);
    case Kind::fir_filter:
        return fir_state(answers);
    case Kind::curve_filter:
        return curve_state(answers);
    case Kind::block:
    case Kind::level_sensor:
        break;
    }
    return {};
}

Writer& put(Writer& out, const GainSetting& s) {
    return out.f32(s.gain_db);
}
Writer& put(Writer& out, const MuteSetting& s) {
    return out.u8(s.is_muted ? muted : unmuted);
}
Writer& put(Writer& out, const PolaritySetting& s) {
    return out.u8(s.is_inverted ? inverted : straight);
}
Writer& put(Writer& out, const DelaySetting& s) {
    return out.f32(s.seconds);
}
Writer& put(Writer& out, const ParametricSetting& s) {
    return out.u16(all_parameters)
        .f32(s.frequency_hz)
        .u8(static_cast<std::uint8_t>(s.form))
        .f32(s.width)
        .f32(s.in_band_gain_db)
        .f32(s.form_parameter);
}
Writer& put(Writer& out, const ClassicalSetting& s) {
    return out.u16(all_parameters)
        .f32(s.frequency_hz)
        .u8(static_cast<std::uint8_t>(s.passband))
        .u8(static_cast<std::uint8_t>(s.form))
        .u16(s.order)
        .f32(s.parameter);
}
Writer& put(Writer& out, const PolynomialSetting& s) {
    return out.floats(s.numerator).floats(s.denominator);
}
Writer& put(Writer& out, const FirSetting& s) {
    return out.floats(s.taps);
}
Writer& put(Writer& out, const CurveSetting& s) {
    return out.floats(s.frequency_hz).floats(s.amplitude).floats(s.phase_rad);
}

std::uint8_t parameters_of(Kind kind) {
    switch (kind) {
    case Kind::parametric_filter:
    case Kind::classical_filter:
        return 6;
    case Kind::polynomial_filter:
        return 2;
    default:
        return 1;
    }
}

Setting setting_from(Kind kind, Reader& in) {
    switch (kind) {
    case Kind::mute:
        return MuteSetting{one_of(in, muted, unmuted)};
    case Kind::polarity:
        return PolaritySetting{one_of(in, inverted, straight)};
    case Kind::delay:
        return DelaySetting{in.f32()};
    case Kind::parametric_filter: {
        in.u16();
        ParametricSetting s;
        s.frequency_hz = in.f32();
        s.form = enum_up_to(in, ParametricForm::notch);
        s.width = in.f32();
        s.in_band_gain_db = in.f32();
        s.form_parameter = in.f32();
        return s;
    }
    case Kind::classical_filter: {
        in.u16();
        ClassicalSetting s;
        s.frequency_hz = in.f32();
        s.passband = enum_up_to(in, Passband::all_pass, 1);
        s.form = enum_up_to(in, ClassicalForm::linkwitz_riley, 1);
        s.order = in.u16();
        s.parameter = in.f32();
        return s;
    }
    case Kind::polynomial_filter: {
        PolynomialSetting s{in.floats(), in.floats()};
        return s;
    }
    case Kind::fir_filter:
        return FirSetting{in.floats()};
    case Kind::curve_filter:
        return curve_in(in);
    case Kind::gain:
    case Kind::block:
    case Kind::level_sensor:
        break;
    }
    return GainSetting{in.f32()};
}

Parameters bounded_answer(float value, const std::optional<Range>& range) {
    Writer out;
    const Range all = range.value_or(
        Range{std::numeric_limits<float>::lowest(), std::numeric_limits<float>::max()});
    out.f32(value).f32(all.least).f32(all.greatest);
    return {3, std::move(out).bytes()};
}
Parameters fixed_answer(float value) {
    return bounded_answer(value, Range{value, value});
}
Parameters byte_answer(std::uint8_t value) {
    return {1, {value}};
}
Parameters count_answer(std::size_t value) {
    Writer out;
    out.u16(static_cast<std::uint16_t>(value));
    return {1, std::move(out).bytes()};
}
Parameters written(const Setting& setting) {
    return call_to_set(setting).parameters;
}

std::vector<Parameters> answers_for(const GainSetting& s, const Limits& limits) {
    return {bounded_answer(s.gain_db, limits.gain_db)};
}
std::vector<Parameters> answers_for(const MuteSetting& s, const Limits&) {
    return {written(s)};
}
std::vector<Parameters> answers_for(const PolaritySetting& s, const Limits&) {
    return {written(s)};
}
std::vector<Parameters> answers_for(const DelaySetting& s, const Limits& limits) {
    return {bounded_answer(s.seconds, limits.delay_s)};
}
std::vector<Parameters> answers_for(const ParametricSetting& s, const Limits& limits) {
    return {bounded_answer(s.frequency_hz, limits.frequency_hz),
            byte_answer(static_cast<std::uint8_t>(s.form)), bounded_answer(s.width, limits.width),
            bounded_answer(s.in_band_gain_db, limits.gain_db),
            bounded_answer(s.form_parameter, limits.form_parameter)};
}
std::vector<Parameters> answers_for(const ClassicalSetting& s, const Limits& limits) {
    Writer order;
    const Range orders = limits.order.value_or(Range{1, 0xffff});
    order.u16(s.order)
        .u16(static_cast<std::uint16_t>(orders.least))
        .u16(static_cast<std::uint16_t>(orders.greatest));
    return {bounded_answer(s.frequency_hz, limits.frequency_hz),
            byte_answer(static_cast<std::uint8_t>(s.passband)),
            byte_answer(static_cast<std::uint8_t>(s.form)),
            {3, std::move(order).bytes()},
            bounded_answer(s.parameter, limits.form_parameter)};
}
std::vector<Parameters> answers_for(const PolynomialSetting& s, const Limits& limits) {
    return {written(s), fixed_answer(limits.sample_rate_hz.value_or(0)),
            byte_answer(static_cast<std::uint8_t>(limits.most_order.value_or(2)))};
}
std::vector<Parameters> answers_for(const FirSetting& s, const Limits& limits) {
    Writer length;
    length.u32(static_cast<std::uint32_t>(s.taps.size()))
        .u32(1)
        .u32(static_cast<std::uint32_t>(limits.taps.value_or(s.taps.size())));
    return {{3, std::move(length).bytes()},
            written(s),
            fixed_answer(limits.sample_rate_hz.value_or(0))};
}
std::vector<Parameters> answers_for(const CurveSetting& s, const Limits& limits) {
    return {written(s), fixed_answer(limits.sample_rate_hz.value_or(0)),
            count_answer(limits.least_points.value_or(1)),
            count_answer(limits.most_points.value_or(0xffff))};
}

} // namespace

std::vector<MethodId> reading_methods(Kind kind) {
    using namespace method;
    switch (kind) {
    case Kind::gain:
    case Kind::mute:
    case Kind::polarity:
    case Kind::delay:
        return {get_value};
    case Kind::parametric_filter:
        return {get_frequency, get_shape, get_width, get_in_band_gain, get_shape_parameter};
    case Kind::classical_filter:
        return {get_frequency, get_passband, get_classical_shape, get_order, get_parameter};
    case Kind::polynomial_filter:
        return {get_coefficients, get_sample_rate, get_most_order};
    case Kind::fir_filter:
        return {get_length, get_taps, get_fir_sample_rate};
    case Kind::curve_filter:
        return {get_curve, get_curve_sample_rate, get_least_points, get_most_points};
    case Kind::block:
    case Kind::level_sensor:
        break;
    }
    return {};
}

Expected<ObjectState> state_from(Kind kind, const std::vector<Parameters>& answers) {
    Answers read(answers);
    ObjectState state = state_of(kind, read);
    if (!read.ok() || !is_finite(state.setting)) {
        return refuse("", fmt::format("its answer is not that of {}", class_of(kind).name),
                      "report it to the device's maker");
    }
    return state;
}

std::vector<Parameters> answers_of(const ObjectState& state) {
    return std::visit([&](const auto& one) { return answers_for(one, state.limits); },
                      state.setting);
}

SettingCall call_to_set(const Setting& setting) {
    const Kind kind = kind_of(setting);
    Writer out;
    std::visit([&](const auto& one) { put(out, one); }, setting);
    const bool has_multiple = kind == Kind::parametric_filter || kind == Kind::classical_filter;
    return {has_multiple               ? method::set_multiple
            : kind == Kind::fir_filter ? method::set_taps
                                       : method::set_value,
            {parameters_of(kind), std::move(out).bytes()}};
}

Expected<Setting> setting_in(Kind kind, const Parameters& parameters) {
    Reader in(parameters.bytes);
    Setting setting = setting_from(kind, in);
    if (!has_setting(kind) || parameters.count != parameters_of(kind) || !in.is_at_end()) {
        return refuse("", fmt::format("these are no values of {}", class_of(kind).name),
                      "send them as the standard has them");
    }
    return setting;
}

} // namespace syntonon::oca
