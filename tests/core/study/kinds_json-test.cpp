// Each kind of stage in the study file.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/kinds.h"
#include "core/study/study_json.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

std::string study_with(std::string_view fields) {
    return fmt::format(R"({{"format": "syntonon-study", "version": 1, "sample_rate_hz": 48000,
        "channels": [{{"id": "z", "stages": [{{"id": "s1", {}}}]}}]}})",
                       fields);
}

Expected<StageSpec> spec_from(std::string_view fields) {
    const auto read = study_from_json(study_with(fields));
    return read.map([](const ReadStudy& r) { return r.study.channels[0]->stages[0]->spec; });
}

std::string refused_place(std::string_view fields) {
    const auto spec = spec_from(fields);
    return spec ? "read" : spec.error().place;
}

void expect_kept(std::string_view fields, const StageSpec& wanted) {
    const auto spec = spec_from(fields);
    ASSERT_TRUE(spec) << to_text(spec.error());
    EXPECT_EQ(*spec, wanted) << fields;
    Study study = study_from_json(study_with(fields))->study;
    const auto again = study_from_json(json_from_study(study));
    ASSERT_TRUE(again);
    EXPECT_EQ(again->study, study) << fields;
    EXPECT_TRUE(again->warnings.empty());
}

TEST(KindsJson, AGainIsInDecibelsOrAFactor) {
    expect_kept(R"("kind": "gain", "gain_db": -6)", GainSpec{-6, false, {}});
    expect_kept(R"("kind": "gain", "gain_db": 3, "invert": true)", GainSpec{3, true, {}});
    expect_kept(R"("kind": "gain", "factor": -0.5)", GainSpec{0, false, -0.5});
    EXPECT_EQ(refused_place(R"("kind": "gain")"), "channels[0].stages[0].gain_db");
    EXPECT_EQ(refused_place(R"("kind": "gain", "gain_db": 1, "factor": 2)"),
              "channels[0].stages[0].factor");
    EXPECT_EQ(refused_place(R"("kind": "gain", "factor": 2, "invert": true)"),
              "channels[0].stages[0].factor");
}

TEST(KindsJson, ADelayIsInOneOfThreeUnits) {
    expect_kept(R"("kind": "delay", "samples": 48)", DelaySpec{DelayUnit::samples, 48});
    expect_kept(R"("kind": "delay", "ms": 2.1, "interpolation": "none")",
                DelaySpec{DelayUnit::ms, 2.1});
    expect_kept(R"("kind": "delay", "metres": 3.4, "speed_of_sound_m_per_s": 340)",
                DelaySpec{DelayUnit::metres, 3.4, 340});
    EXPECT_EQ(refused_place(R"("kind": "delay")"), "channels[0].stages[0].samples");
    EXPECT_EQ(refused_place(R"("kind": "delay", "samples": 1, "ms": 1)"),
              "channels[0].stages[0].samples");
    EXPECT_EQ(refused_place(R"("kind": "delay", "samples": 1, "interpolation": "cubic")"),
              "channels[0].stages[0].interpolation");
    expect_kept(R"("kind": "delay", "samples": 4.5, "interpolation": "all_pass", "order": 2)",
                DelaySpec{DelayUnit::samples, 4.5, 343, Interpolation::all_pass, 2});
    expect_kept(R"("kind": "delay", "ms": 1, "interpolation": "windowed_sinc", "order": 31)",
                DelaySpec{DelayUnit::ms, 1, 343, Interpolation::windowed_sinc, 31});
    EXPECT_EQ(
        refused_place(R"("kind": "delay", "ms": 1, "interpolation": "lagrange", "order": 2.5)"),
        "channels[0].stages[0].order");
}

TEST(KindsJson, AClassicalFilterIsStatedByOrder) {
    ClassicalSpec spec;
    spec.family = ClassicalFamily::elliptic;
    spec.band = ClassicalBand::band_pass;
    spec.order = 5;
    spec.edges_hz = {300, 3400};
    spec.pass_ripple_db = 0.1;
    spec.stop_attenuation_db = 70;
    spec.mapping = PlaneMapping::matched;
    spec.sections = {SectionPairing::as_designed, SectionOrder::least_peak,
                     SectionGain::equal_peaks};
    expect_kept(R"("kind": "classical", "family": "elliptic", "band": "band_pass", "order": 5,
                   "edges_hz": [300, 3400], "pass_ripple_db": 0.1, "stop_attenuation_db": 70,
                   "mapping": "matched", "sections": {"pairing": "as_designed",
                   "order": "least_peak", "gain": "equal_peaks"})",
                spec);
    ClassicalSpec bessel;
    bessel.family = ClassicalFamily::bessel;
    bessel.order = 3;
    bessel.edges_hz[0] = 500;
    bessel.normalised_to = BesselEdge::delay;
    expect_kept(R"("kind": "classical", "family": "bessel", "band": "low_pass", "order": 3,
                   "edges_hz": [500], "normalised_to": "delay")",
                bessel);
}

TEST(KindsJson, AClassicalFilterIsStatedByTolerances) {
    ClassicalSpec spec;
    spec.by_tolerances = true;
    spec.tolerances.pass_edges_hz[0] = 1000;
    spec.tolerances.stop_edges_hz[0] = 1600;
    spec.tolerances.pass_as_ratio = spec.tolerances.stop_as_ratio = true;
    spec.tolerances.pass_ratio = {0.99, 1.02};
    spec.tolerances.stop_ratio = 0.003;
    spec.better = Better::pass_edge;
    expect_kept(R"("kind": "classical", "family": "butterworth", "band": "low_pass",
                   "spec": {"pass_edges_hz": [1000], "stop_edges_hz": [1600],
                            "pass_ratio": [0.99, 1.02], "stop_ratio": 0.003},
                   "better": "pass_edge")",
                spec);
    // The numbers of the other way are not lost.
    spec.order = 9;
    spec.edges_hz[0] = 1234;
    spec.by_tolerances = false;
    Study study = study_from_json(study_with(R"("kind": "gain", "gain_db": 0)"))->study;
    study.channels[0].edit().stages[0].edit().spec = spec;
    EXPECT_EQ(study_from_json(json_from_study(study))->study, study);
    spec.by_tolerances = true;
    study.channels[0].edit().stages[0].edit().spec = spec;
    EXPECT_EQ(study_from_json(json_from_study(study))->study, study);
}

TEST(KindsJson, SaysWhatIsWrongWithAClassicalFilter) {
    const std::string stage = "channels[0].stages[0].";
    const auto with = [](std::string_view rest) {
        return refused_place(fmt::format(
            R"("kind": "classical", "family": "chebyshev", "band": "low_pass", {})", rest));
    };
    EXPECT_EQ(with(R"("order": 3)"), stage + "edges_hz");
    EXPECT_EQ(with(R"("edges_hz": [3])"), stage + "order");
    EXPECT_EQ(with(R"("order": 3, "edges_hz": [1000])"), stage + "pass_ripple_db");
    EXPECT_EQ(with(R"("order": 3, "edges_hz": [1000], "pass_ripple_db": 1, "mapping": "x")"),
              stage + "mapping");
    EXPECT_EQ(with(R"("spec": {"pass_edges_hz": [1], "stop_edges_hz": [2]})"),
              stage + "spec.pass_ripple_db");
    EXPECT_EQ(with(R"("spec": {"pass_edges_hz": [1], "stop_edges_hz": [2], "pass_ratio": [0.9],
                     "stop_ratio": 0.1})"),
              stage + "spec.pass_ratio");
    EXPECT_EQ(refused_place(R"("kind": "classical", "family": "cauer", "band": "low_pass")"),
              stage + "family");
    EXPECT_EQ(refused_place(R"("kind": "classical", "family": "bessel", "band": "band_pass",
                              "order": 2, "edges_hz": [1000])"),
              stage + "edges_hz");
}

TEST(KindsJson, RootsArePairsOfNumbers) {
    expect_kept(R"("kind": "roots", "zeros": [[-1, 0]], "poles": [[0.5, 0.25], [0.5, -0.25]],
                   "gain": 0.5)",
                RootsSpec{{{-1, 0}}, {{0.5, 0.25}, {0.5, -0.25}}, 0.5});
    EXPECT_EQ(refused_place(R"("kind": "roots", "zeros": [[1]], "poles": [], "gain": 1)"),
              "channels[0].stages[0].zeros[0]");
    EXPECT_EQ(refused_place(R"("kind": "roots", "zeros": [], "poles": [])"),
              "channels[0].stages[0].gain");
}

TEST(KindsJson, ARecursionIsCoefficientsOrAStart) {
    expect_kept(R"("kind": "recursion", "b": [1, 0.5], "a": [2, -0.5, 0.25])",
                RecursionSpec{{1, 0.5}, {2, -0.5, 0.25}, {}});
    for (const RecursionForm form : all_recursion_forms) {
        RecursionSpec spec;
        spec.start = RecursionStart{.form = form};
        Study study;
        study.channels.emplace_back(Channel{});
        Stage stage;
        stage.id = "s";
        stage.spec = spec;
        study.channels[0].edit().stages.emplace_back(stage);
        const auto again = study_from_json(json_from_study(study));
        ASSERT_TRUE(again) << to_text(again.error());
        EXPECT_EQ(again->study.channels[0]->stages[0]->spec, StageSpec(spec)) << key_of(form);
    }
    RecursionSpec resonator;
    resonator.start =
        RecursionStart{.form = RecursionForm::resonator, .frequency_hz = 300, .bandwidth_hz = 12};
    expect_kept(R"("kind": "recursion", "start": {"form": "resonator", "frequency_hz": 300,
                "bandwidth_hz": 12})",
                resonator);
    EXPECT_EQ(refused_place(R"("kind": "recursion", "b": [1])"), "channels[0].stages[0].a");
    EXPECT_EQ(refused_place(R"("kind": "recursion", "b": [1], "a": [1], "start": {})"),
              "channels[0].stages[0].start");
    EXPECT_EQ(refused_place(R"("kind": "recursion", "start": {"form": "echo"})"),
              "channels[0].stages[0].start.form");
    EXPECT_EQ(refused_place(R"("kind": "recursion", "start": {"form": "smoother"})"),
              "channels[0].stages[0].start.time_constant_ms");
    EXPECT_EQ(
        refused_place(R"("kind": "recursion", "start": {"form": "moving_average", "length": 2.5})"),
        "channels[0].stages[0].start.length");
}

// What is read of a table's line is written and read again.
TEST(KindsJson, AnFirIsAMethodWithItsFields) {
    const auto fir = [](FirMethod method, int length, FirWish wish = {}) {
        FirSpec spec;
        spec.method = std::move(method);
        spec.length = length;
        spec.wish = std::move(wish);
        return spec;
    };
    WindowedFir windowed;
    windowed.band = ClassicalBand::high_pass;
    windowed.edges_hz[0] = 3000;
    windowed.window = {WindowShape::dolph_chebyshev, 70, {}};
    windowed.scale = WindowedFir::Scale::none;
    expect_kept(R"("kind": "fir", "method": "windowed", "length": 51, "band": "high_pass",
                "edges_hz": [3000], "window": "dolph_chebyshev", "window_parameter": 70,
                "scale": "none")",
                fir(windowed, 51));
    windowed = {};
    windowed.by = WindowedFir::By::bands;
    windowed.window = {WindowShape::drawn, 8, {{0, 0.5}, {0.5, 1}, {1, 0.5}}};
    windowed.delay_samples = 20.5;
    const FirWish wish{false, {{0, 4000, 1, 0.5, 1, {}}, {6000, 24000, 0, {}, 20, {}}}};
    const std::string bands = R"("bands": [{"from_hz": 0, "to_hz": 4000, "gain": 1, "gain_to": 0.5},
                {"from_hz": 6000, "to_hz": 24000, "gain": 0, "weight": 20}])";
    expect_kept(R"("kind": "fir", "method": "windowed", "length": 64, "window": "drawn",
                "window_points": [[0, 0.5], [0.5, 1], [1, 0.5]], "delay_samples": 20.5, )"
                    + bands,
                fir(windowed, 64, wish));
    windowed = {};
    windowed.by = WindowedFir::By::tolerances;
    windowed.tolerances.pass_edges_hz[0] = 4000;
    windowed.tolerances.stop_edges_hz[0] = 5000;
    windowed.tolerances.pass_ripple_db = 0.2;
    windowed.tolerances.stop_attenuation_db = 70;
    const std::string spec = R"("band": "low_pass", "spec": {"pass_edges_hz": [4000],
                "stop_edges_hz": [5000], "pass_ripple_db": 0.2, "stop_attenuation_db": 70})";
    expect_kept(R"("kind": "fir", "method": "windowed", )" + spec, fir(windowed, FirSpec().length));
    EquirippleFir magnitude_only, odd;
    magnitude_only.form = EquirippleFir::Form::magnitude_only;
    odd.symmetry = FirSymmetry::odd;
    EquirippleFir by_tolerances;
    by_tolerances.by_tolerances = true;
    by_tolerances.tolerances = windowed.tolerances;
    expect_kept(R"("kind": "fir", "method": "equiripple", )" + spec,
                fir(by_tolerances, FirSpec().length));
    EquirippleFir shortest;
    shortest.by_tolerances = true;
    expect_kept(R"("kind": "fir", "method": "equiripple", "use_goal": true)",
                fir(shortest, FirSpec().length, {true, FirWish().bands}));
    expect_kept(R"("kind": "fir", "method": "equiripple", "length": 31, "form": "magnitude_only", )"
                    + bands,
                fir(magnitude_only, 31, wish));
    FirWish weighed = wish;
    weighed.weights = {{500, 1, {}}, {9000, 40, {}}};
    expect_kept(R"("kind": "fir", "method": "equiripple", "length": 31,
                "weights": [{"frequency_hz": 500, "weight": 1},
                            {"frequency_hz": 9000, "weight": 40}], )"
                    + bands,
                fir(EquirippleFir(), 31, weighed));
    weighed.use_goal = true;
    weighed.bands = FirWish().bands;
    expect_kept(R"("kind": "fir", "method": "least_squares", "length": 31, "use_goal": true,
                "weights": [{"frequency_hz": 500, "weight": 1},
                            {"frequency_hz": 9000, "weight": 40}])",
                fir(LeastSquaresFir(), 31, weighed));
    expect_kept(R"("kind": "fir", "method": "equiripple", "length": 31, "symmetry": "odd",
                "bands": [{"from_hz": 900, "to_hz": 23000, "gain": 1}])",
                fir(odd, 31, {false, {{900, 23000, 1, {}, 1, {}}}}));
    expect_kept(R"("kind": "fir", "method": "least_squares", "length": 61, "delay_samples": 21.4, )"
                    + bands,
                fir(LeastSquaresFir{FirSymmetry::even, 21.4}, 61, wish));
    FirWish goal;
    goal.use_goal = true;
    expect_kept(R"("kind": "fir", "method": "sampled", "length": 64, "use_goal": true)",
                fir(SampledFir(), 64, goal));
    expect_kept(R"("kind": "fir", "method": "sampled", "length": 33,
                "samples": [{"frequency_hz": 0, "gain": 1}, {"frequency_hz": 9000, "gain": 0}])",
                fir(SampledFir{{{0, 1, {}}, {9000, 0, {}}}, {}}, 33));
    expect_kept(R"("kind": "fir", "method": "sampled", "length": 33,
                "samples": [{"frequency_hz": 0, "gain": 1}, {"frequency_hz": 4000, "best": true},
                            {"frequency_hz": 9000, "gain": 0}])",
                fir(SampledFir{{{0, 1, {}}, {4000, {}, {}}, {9000, 0, {}}}, {}}, 33));
    expect_kept(
        R"("kind": "fir", "method": "sampled", "length": 64, "between": "best", "use_goal": true)",
        fir(SampledFir{{}, {}, SampledFir::Between::best}, 64, goal));
    expect_kept(R"("kind": "fir", "method": "raised_cosine", "length": 65, "symbol_rate_hz": 4800,
                "roll_off": 0.2)",
                fir(RaisedCosineFir{4800, 0.2}, 65));
    expect_kept(R"("kind": "fir", "method": "root_raised_cosine", "length": 65,
                "symbol_rate_hz": 4800, "roll_off": 0.2)",
                fir(RootRaisedCosineFir{4800, 0.2}, 65));
    expect_kept(R"("kind": "fir", "method": "gaussian_pulse", "length": 65, "symbol_rate_hz": 4800,
                "bandwidth_time": 0.5)",
                fir(GaussianPulseFir{4800, 0.5}, 65));
    expect_kept(R"("kind": "fir", "method": "moving_average", "length": 9, "power": 3)",
                fir(MovingAverageFir{3}, 9));
    expect_kept(R"("kind": "fir", "method": "savitzky_golay", "length": 9, "degree": 3,
                "derivative": 1)",
                fir(SavitzkyGolayFir{3, 1}, 9));
    expect_kept(R"("kind": "fir", "method": "fractional_delay", "length": 16,
                "delay_samples": 7.3, "interpolation": "least_squares", "band_hz": 18000)",
                fir(FractionalDelayFir{7.3, FractionalDelayFir::By::least_squares, 18000}, 16));
    FirSpec chain = fir(FromChainFir(), 4096);
    chain.phase = FirPhase::linear;
    expect_kept(R"("kind": "fir", "method": "from_chain", "length": 4096, "phase": "linear")",
                chain);
}

TEST(KindsJson, AnFirThatSaysTooLittleOrRubbishIsRefused) {
    const auto place = [](const std::string& fields) {
        return refused_place(R"("kind": "fir", )" + fields);
    };
    const std::string stage = "channels[0].stages[0].";
    EXPECT_EQ(place(R"("length": 5)"), stage + "method");
    EXPECT_EQ(place(R"("method": "guessed", "length": 5)"), stage + "method");
    EXPECT_EQ(place(R"("method": "moving_average")"), stage + "length");
    EXPECT_EQ(place(R"("method": "equiripple", "length": 5)"), stage + "bands");
    EXPECT_EQ(place(R"("method": "equiripple", "length": 5, "bands": [{"from_hz": 0}])"),
              stage + "bands[0].to_hz");
    EXPECT_EQ(place(R"("method": "windowed", "length": 5)"), stage + "band");
    EXPECT_EQ(place(R"("method": "windowed", "length": 5, "band": "low_pass", "edges_hz": [100],
                    "window": "round")"),
              stage + "window");
    EXPECT_EQ(place(R"("method": "windowed", "length": 5, "band": "low_pass", "edges_hz": [100],
                    "window": "drawn", "window_points": [[0, 1], [1]])"),
              stage + "window_points[1]");
}

TEST(KindsJson, ModelledFiltersKeepWhatTheyAreBuiltOf) {
    LadderSpec ladder;
    ladder.type = modelled::LadderType::diode;
    ladder.response = modelled::LadderResponse::band_12;
    ladder.frequency_hz = 640;
    ladder.resonance = 1.1;
    ladder.drive_db = 12;
    ladder.oversampling = 4;
    expect_kept(R"("kind": "ladder", "type": "diode", "response": "band_12", "frequency_hz": 640,
                   "resonance": 1.1, "drive_db": 12, "oversampling": 4)",
                ladder);
    ladder.saturating = ladder.prewarped = false;
    ladder.resonance = 0.5;
    ladder.bass_compensation = 0.25;
    expect_kept(R"("kind": "ladder", "type": "diode", "response": "band_12", "frequency_hz": 640,
                   "resonance": 0.5, "drive_db": 12, "bass_compensation": 0.25, "oversampling": 4,
                   "saturating": false, "prewarped": false)",
                ladder);
    StateVariableSpec state_variable;
    state_variable.response = modelled::StateVariableResponse::low_shelf;
    state_variable.frequency_hz = 120;
    state_variable.resonance = 0.4;
    state_variable.gain_db = -3;
    state_variable.in_series = 2;
    state_variable.saturating = true;
    expect_kept(R"("kind": "state_variable", "response": "low_shelf", "frequency_hz": 120,
                   "resonance": 0.4, "gain_db": -3, "in_series": 2, "drive_db": 0,
                   "saturating": true, "oversampling": 1)",
                state_variable);
    const std::string stage = "channels[0].stages[0].";
    EXPECT_EQ(spec_from(R"("kind": "ladder")").error().place, stage + "frequency_hz");
    EXPECT_EQ(
        spec_from(R"("kind": "ladder", "frequency_hz": 9, "response": "steep")").error().place,
        stage + "response");
}

TEST(KindsJson, ACrossoverKeepsWhatIsSharedAndItsWay) {
    CrossoverSpec spec;
    spec.link = "crossover-1";
    spec.frequencies_hz = {300, 3000};
    spec.way = 2;
    expect_kept(R"("kind": "crossover", "link": "crossover-1", "frequencies_hz": [300, 3000],
                   "way": 2)",
                spec);
    spec.link.clear();
    spec.family = CrossoverFamily::linear_phase;
    spec.length = 511;
    spec.stop_attenuation_db = 80;
    spec.height_m = -0.25;
    spec.filled = false;
    expect_kept(R"("kind": "crossover", "family": "linear_phase", "frequencies_hz": [300, 3000],
                   "way": 2, "length": 511, "stop_attenuation_db": 80, "height_m": -0.25,
                   "filled": false)",
                spec);
    spec.family = CrossoverFamily::subtractive;
    spec.order = 6;
    spec.delayed = false;
    expect_kept(R"("kind": "crossover", "family": "subtractive", "order": 6, "length": 511,
                   "frequencies_hz": [300, 3000], "way": 2, "stop_attenuation_db": 80,
                   "height_m": -0.25, "filled": false, "delayed": false)",
                spec);
    EXPECT_EQ(spec_from(R"("kind": "crossover", "order": 4)").error().place,
              "channels[0].stages[0].frequencies_hz");
    EXPECT_FALSE(spec_from(R"("kind": "crossover", "frequencies_hz": [100], "family": "x")"));
    for (const char* count : {"[]", "[1, 2, 3, 4]"}) {
        EXPECT_EQ(spec_from(fmt::format(R"("kind": "crossover", "frequencies_hz": {})", count))
                      .error()
                      .place,
                  "channels[0].stages[0].frequencies_hz");
    }
}

TEST(KindsJson, ARecursiveFitKeepsItsSettingsAndWhatWasFound) {
    FittedSpec plain;
    plain.order = 12;
    plain.from_hz = 60;
    expect_kept(R"("kind": "fitted", "order": 12, "match": "magnitude", "use_goal": true,
                   "from_hz": 60)",
                plain);
    FittedSpec model;
    model.match = FittedMatch::impulse;
    model.method = ImpulseMethod::balanced_truncation;
    model.order = 2;
    model.length = 256;
    model.curve = "row-a";
    model.poles = {{0.5, 0.25}, {0.5, -0.25}};
    model.zeros = {{0.25, 0}, {-0.5, 0}};
    model.delay_samples = 12;
    model.bound = 0.125;
    model.fitted_to = "xxh3-0123456789abcdef";
    expect_kept(R"("kind": "fitted", "order": 2, "match": "impulse", "length": 256,
        "method": "balanced_truncation", "curve": "row-a",
        "poles": [[0.5, 0.25], [0.5, -0.25]], "zeros": [[0.25, 0], [-0.5, 0]],
        "delay_samples": 12, "bound": 0.125, "fitted_to": "xxh3-0123456789abcdef")",
                model);
    FittedSpec full;
    full.order = 4;
    full.numerator_order = 2;
    full.match = FittedMatch::complex;
    full.errors = FittedErrors::greatest;
    full.axis = FittedAxis::warped;
    full.warping = 0.6;
    full.greatest_q = 20;
    full.to_hz = 16'000;
    full.refits = true;
    full.target.emplace();
    full.target->points = {{20, 3, {}, {}}, {20'000, -3, {}, {}}};
    full.phase_target.emplace();
    full.phase_target->points = {{100, -90, {}, {}}};
    full.delay_target.emplace();
    full.delay_target->points = {{100, 2, {}, {}}};
    full.zeros = {{-0.5, 0}, {0.25, 0}};
    full.poles = {{0.5, 0.25}, {0.5, -0.25}, {0.125, 0}, {0.75, 0}};
    full.gain = 0.5;
    full.delay_ms = 1.5;
    full.fitted_to = "xxh3-0123456789abcdef";
    full.fitted_aim_db = {-4, -3.5};
    full.fitted_aim_deg = {10, 20};
    expect_kept(R"("kind": "fitted", "order": 4, "numerator_order": 2, "match": "complex",
        "errors": "greatest", "axis": "warped", "warping": 0.6, "greatest_q": 20, "to_hz": 16000,
        "refits": true,
        "target": {"points": [{"frequency_hz": 20, "magnitude_db": 3},
                              {"frequency_hz": 20000, "magnitude_db": -3}]},
        "phase_target": {"points": [{"frequency_hz": 100, "phase_deg": -90}]},
        "delay_target": {"points": [{"frequency_hz": 100, "delay_ms": 2}]},
        "zeros": [[-0.5, 0], [0.25, 0]],
        "poles": [[0.5, 0.25], [0.5, -0.25], [0.125, 0], [0.75, 0]], "gain": 0.5, "delay_ms": 1.5,
        "fitted_to": "xxh3-0123456789abcdef", "fitted_aim_db": [-4, -3.5],
        "fitted_aim_deg": [10, 20])",
                full);
}

TEST(KindsJson, ACorrectionKeepsItsSettingsAndWhatWasFound) {
    CorrectionSpec plain;
    std::get<SectionsCorrection>(plain.method).count = 20;
    plain.from_hz = 60;
    expect_kept(R"("kind": "correction", "method": "sections", "count": 20, "from_hz": 60)", plain);
    CorrectionSpec full;
    full.to_hz = 12'000;
    full.boost_limit_db = 4;
    full.cut_limit_db = 9;
    full.smoothing_oct = 0.25;
    full.spread_db = 3;
    full.dip_db = 0;
    full.over = CorrectionOver::worst_position;
    full.refits = true;
    auto& method = std::get<SectionsCorrection>(full.method);
    method.tolerance_db = 0.75;
    method.count = most_sections_by_tolerance;
    method.section_boost_limit_db = 3;
    method.section_cut_limit_db = 8;
    method.greatest_q = 6;
    method.q_limits = {{100, 10, {}}, {1000, 4, {}}};
    method.gain_step_db = 0.5;
    method.frequency_steps_oct = 24;
    method.found = {{parametric(ParametricShape::peak, 63, -4, 3), true, {}},
                    {parametric(ParametricShape::high_shelf, 8000, 2, 0.7), false, {}}};
    full.fitted_to = "xxh3-0123456789abcdef";
    full.fitted_aim_db = {-4, -3.5, 2};
    expect_kept(R"("kind": "correction", "method": "sections", "to_hz": 12000, "boost_limit_db": 4,
        "cut_limit_db": 9, "smoothing_oct": 0.25, "spread_db": 3, "dip_db": 0,
        "over": "worst_position", "refits": true, "tolerance_db": 0.75, "section_boost_limit_db": 3,
        "section_cut_limit_db": 8, "greatest_q": 6,
        "q_limits": [{"frequency_hz": 100, "q": 10}, {"frequency_hz": 1000, "q": 4}],
        "gain_step_db": 0.5, "frequency_steps_oct": 24, "sections": [
            {"shape": "peak", "frequency_hz": 63, "gain_db": -4, "q": 3, "locked": true},
            {"shape": "high_shelf", "frequency_hz": 8000, "gain_db": 2, "q": 0.7}],
        "fitted_to": "xxh3-0123456789abcdef", "fitted_aim_db": [-4, -3.5, 2])",
                full);
    CorrectionSpec taps;
    TapsCorrection mixed;
    mixed.length = 1024;
    mixed.phase = TapsCorrection::Phase::mixed;
    mixed.delay_samples = 300;
    mixed.window = {WindowShape::kaiser, 6, {}};
    mixed.pre_ringing_db = -50;
    mixed.pre_ringing_ms = 3;
    mixed.found = std::make_shared<const std::vector<double>>(3, 0.5);
    mixed.sound_at_samples = 300;
    mixed.timing_up_to_hz = 240;
    mixed.worst_pre_ringing_db = -42;
    taps.method = mixed;
    expect_kept(R"("kind": "correction", "method": "taps", "length": 1024, "phase": "mixed",
        "delay_samples": 300, "window": "kaiser", "window_parameter": 6,
        "pre_ringing_db": -50, "pre_ringing_ms": 3, "taps": [0.5, 0.5, 0.5],
        "sound_at_samples": 300, "timing_up_to_hz": 240, "worst_pre_ringing_db": -42)",
                taps);
    CorrectionSpec timed;
    auto& by_delay = std::get<SectionsCorrection>(timed.method);
    by_delay.match = CorrectionMatch::delay;
    by_delay.all_passes = 7;
    by_delay.delay_ms = 2.5;
    by_delay.found = {{parametric(ParametricShape::all_pass, 300, 0, 0.5), false, {}}};
    timed.boost_limits = {{50, 2, {}}, {400, 8, {}}};
    timed.fitted_to = "xxh3-0123456789abcdef";
    timed.fitted_aim_db = {1, 2};
    timed.fitted_aim_deg = {-10, 5.5};
    expect_kept(R"("kind": "correction", "match": "delay", "all_passes": 7, "delay_ms": 2.5,
        "boost_limits": [{"frequency_hz": 50, "boost_db": 2}, {"frequency_hz": 400, "boost_db": 8}],
        "sections": [{"shape": "all_pass", "frequency_hz": 300, "q": 0.5}],
        "fitted_to": "xxh3-0123456789abcdef", "fitted_aim_db": [1, 2],
        "fitted_aim_deg": [-10, 5.5])",
                timed);
    EXPECT_EQ(refused_place(R"("kind": "correction", "match": "phase")"),
              "channels[0].stages[0].match");
    const std::string stage = "channels[0].stages[0].";
    EXPECT_EQ(refused_place(R"("kind": "correction", "method": "magic")"), stage + "method");
    EXPECT_EQ(refused_place(R"("kind": "correction", "over": "all")"), stage + "over");
    EXPECT_EQ(refused_place(R"("kind": "correction", "sections": [{"shape": "peak"}])"),
              stage + "sections[0].frequency_hz");
}

TEST(KindsJson, LoopsAndRepetitionsHoldStages) {
    const auto gain = [](const char* id, double db) {
        Stage stage;
        stage.id = id;
        stage.spec = GainSpec{db, false, {}};
        return stage;
    };
    expect_kept(R"("kind": "repeat", "count": 8, "stages": [{"id": "g", "kind": "gain",
                   "gain_db": -1}])",
                RepeatSpec{8, {gain("g", -1)}});
    LoopSpec loop;
    loop.forward = {gain("f", 2)};
    loop.feedback.factor = -0.62;
    loop.feedback.stages = {gain("r", -3)};
    expect_kept(R"("kind": "loop", "forward": [{"id": "f", "kind": "gain", "gain_db": 2}],
                   "feedback": {"factor": -0.62, "stages": [{"id": "r", "kind": "gain",
                   "gain_db": -3}]})",
                loop);
    EXPECT_EQ(refused_place(R"("kind": "repeat", "stages": [])"), "channels[0].stages[0].count");
    EXPECT_EQ(refused_place(R"("kind": "repeat", "count": 1.5, "stages": [])"),
              "channels[0].stages[0].count");
    EXPECT_EQ(refused_place(R"("kind": "loop", "forward": [])"), "channels[0].stages[0].feedback");
    EXPECT_EQ(refused_place(R"("kind": "loop", "forward": [{"id": "f", "kind": "gain"}],
                               "feedback": {"factor": 1})"),
              "channels[0].stages[0].forward[0].gain_db");
    EXPECT_EQ(refused_place(R"("kind": "loop", "forward": [{"id": "f", "kind": "gain",
                               "gain_db": 0}], "feedback": {"factor": 1, "stages": [{"id": "f",
                               "kind": "gain", "gain_db": 0}]})"),
              "channels[0].stages[0].feedback.stages[0].id");
}

TEST(KindsJson, TapsMayBeNumbersOrTheirBytes) {
    const auto taps = [](std::vector<double> values) {
        return TapsSpec{std::make_shared<const std::vector<double>>(std::move(values))};
    };
    expect_kept(R"("kind": "taps", "taps": [0.5, -0.25])", taps({0.5, -0.25}));
    expect_kept(R"("kind": "taps", "taps": {"f64": "AAAAAAAA8D8AAAAAAAAAQA=="})", taps({1, 2}));
    EXPECT_EQ(refused_place(R"("kind": "taps", "taps": [])"), "channels[0].stages[0].taps");
    // Many of them are kept bit for bit.
    std::vector<double> many(5000);
    for (std::size_t i = 0; i < many.size(); ++i) {
        many[i] = 1.0 / (3.0 + static_cast<double>(i));
    }
    Study study = study_from_json(study_with(R"("kind": "gain", "gain_db": 0)"))->study;
    study.channels[0].edit().stages[0].edit().spec = taps(many);
    EXPECT_EQ(study_from_json(json_from_study(study))->study, study);
}

TEST(KindsJson, AnUnknownKindNamesTheKnownOnes) {
    const auto spec = spec_from(R"("kind": "flanger")");
    ASSERT_FALSE(spec);
    EXPECT_EQ(spec.error().place, "channels[0].stages[0].kind");
    for (const char* kind : {"parametric", "gain", "delay", "taps"}) {
        EXPECT_NE(spec.error().way_out.find(kind), std::string::npos) << kind;
    }
}

} // namespace
} // namespace syntonon
