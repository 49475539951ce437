// A bank over the kernels that the file which includes this has included; compiled once for any
// processor, and once for those with AVX2. All of it has internal linkage: the linker must not take
// one's code for the other's.
// SPDX-License-Identifier: GPL-3.0-or-later

template <class Kernel, class Model>
class Bank final : public ::syntonon::VoiceBank {
public:
    Bank(const Model& model, double sample_rate_hz) {
        kernel_.prepare(model.build, sample_rate_hz);
        for (std::size_t j = 0; j < voices; ++j) {
            kernel_.set(j, model.knobs);
        }
    }
    void set_frequencies(const Row& hz) noexcept override { kernel_.set_frequencies(hz); }
    void reset(std::size_t voice) noexcept override { kernel_.reset(voice); }
    void process(Row* rows, std::size_t count) noexcept override { kernel_.process(rows, count); }

private:
    Kernel kernel_;
};

std::unique_ptr<::syntonon::VoiceBank> made_bank(const ::syntonon::FilterModel& model,
                                                 double sample_rate_hz) {
    using ::syntonon::LadderModel, ::syntonon::StateVariableModel, ::syntonon::VoiceBank;
    if (const auto* ladder = std::get_if<LadderModel>(&model)) {
        return std::make_unique<
            Bank<syntonon::modelled::LadderFilter<VoiceBank::voices>, LadderModel>>(*ladder,
                                                                                    sample_rate_hz);
    }
    return std::make_unique<
        Bank<syntonon::modelled::StateVariableFilter<VoiceBank::voices>, StateVariableModel>>(
        *std::get_if<StateVariableModel>(&model), sample_rate_hz);
}
