// The trim panels of all kinds, and what “add a stage” offers of each. A kind adds its pair here.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/new_stages.h"
#include "app/panes/trim/trim_panel.h"
#include "core/study/kinds.h"

namespace syntonon {

TrimPanel* make_panel(const ParametricSpec& spec, Session& session);
void offer(const ParametricSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const ClassicalSpec& spec, Session& session);
void offer(const ClassicalSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const RootsSpec& spec, Session& session);
void offer(const RootsSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const RecursionSpec& spec, Session& session);
void offer(const RecursionSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const GainSpec& spec, Session& session);
void offer(const GainSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const DelaySpec& spec, Session& session);
void offer(const DelaySpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const SplitSpec& spec, Session& session);
void offer(const SplitSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const RepeatSpec& spec, Session& session);
void offer(const RepeatSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const LoopSpec& spec, Session& session);
void offer(const LoopSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const FirSpec& spec, Session& session);
void offer(const FirSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const CorrectionSpec& spec, Session& session);
void offer(const CorrectionSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const FittedSpec& spec, Session& session);
void offer(const FittedSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const CrossoverSpec& spec, Session& session);
void offer(const CrossoverSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const StateVariableSpec& spec, Session& session);
void offer(const StateVariableSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const LadderSpec& spec, Session& session);
void offer(const LadderSpec& spec, std::vector<NewStage>& offers);

TrimPanel* make_panel(const TapsSpec& spec, Session& session);
void offer(const TapsSpec& spec, std::vector<NewStage>& offers);

} // namespace syntonon
