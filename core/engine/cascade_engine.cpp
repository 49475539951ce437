// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/cascade_engine.h"

#include "core/engine/section_structures.h"
#include "core/engine/staggered_sections.h"

#include <array>
#include <fmt/format.h>
#include <utility>
#include <vector>

namespace syntonon {
namespace {

constexpr std::array section_forms = std::to_array<NamedValue<SectionStructure>>({
    {SectionStructure::direct_1, "direct_1", "Direct form I"},
    {SectionStructure::transposed_2, "transposed_2", "Transposed direct form II"},
    {SectionStructure::coupled, "coupled", "Coupled form"},
    {SectionStructure::normalised_lattice, "normalised_lattice", "Normalised lattice"},
    {SectionStructure::state_variable, "state_variable", "State-variable"},
});

template <class Structure>
class SectionBySection final : public Engine {
public:
    explicit SectionBySection(std::vector<Structure> sections) : sections_(std::move(sections)) {}
    void process(std::span<double> block) noexcept override {
        for (Structure& section : sections_) {
            Structure in_registers = section;
            for (double& sample : block) {
                sample = in_registers.step(sample);
            }
            section = in_registers;
        }
    }
    void reset() noexcept override {
        for (Structure& section : sections_) {
            section.reset();
        }
    }

private:
    std::vector<Structure> sections_;
};

template <class Structure>
Expected<std::unique_ptr<Engine>> made_of(const Cascade& cascade, SectionStructure structure) {
    std::vector<Structure> sections;
    for (std::size_t i = 0; i < cascade.sections.size(); ++i) {
        const auto section = Structure::of(cascade.sections[i]);
        if (!section) {
            return refuse(fmt::format("sections[{}]", i),
                          fmt::format("has a pole on or outside the unit circle: {} cannot hold it",
                                      named<SectionStructure>(section_forms, structure).title),
                          "take a direct form, or make it stable");
        }
        sections.push_back(*section);
    }
    return std::make_unique<SectionBySection<Structure>>(std::move(sections));
}

} // namespace

std::span<const NamedValue<SectionStructure>> names_of_section_structures() {
    return section_forms;
}

Expected<std::unique_ptr<Engine>> cascade_engine(const Cascade& cascade,
                                                 SectionStructure structure) {
    switch (structure) {
    case SectionStructure::direct_1:
        return made_of<DirectForm1>(cascade, structure);
    case SectionStructure::coupled:
        return made_of<CoupledForm>(cascade, structure);
    case SectionStructure::normalised_lattice:
        return made_of<NormalisedLattice>(cascade, structure);
    case SectionStructure::state_variable:
        return made_of<StateVariable>(cascade, structure);
    case SectionStructure::transposed_2:
        break;
    }
    return std::make_unique<StaggeredSections>(cascade);
}

} // namespace syntonon
