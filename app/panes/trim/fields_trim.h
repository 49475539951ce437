// A trim panel made from a kind's list of fields.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/trim_panel.h"
#include "app/widgets/field.h"
#include "core/design/field.h"
#include "core/study/kinds.h"

#include <functional>
#include <string>
#include <vector>

class QHBoxLayout;

namespace syntonon {

// One number of a stage, its kind forgotten.
struct TrimField {
    std::string key;
    Field::Format format;
    std::function<std::optional<double>(const StageSpec&)> chosen; // nothing: another one is
    std::function<std::optional<double>(const StageSpec&, double sample_rate_hz)> derived;
    std::function<void(StageSpec&, double)> set;
    // What one of the unit is in the dimension's canonical one: milliseconds are kept as such, and
    // typed in any unit of time.
    double canonical_per_unit = 1;
};

constexpr int under_fields = 50; // where words below the fields stand

// Fields side by side. What is typed is tried before it is taken: a value that cannot be designed
// is explained beside its field, not applied.
class FieldsTrim : public TrimPanel {
    Q_OBJECT

public:
    FieldsTrim(Session& session, std::vector<TrimField> fields, QWidget* parent = nullptr);

    void show_stage(const Stage& stage) override;
    Field* field(std::string_view key) const; // null when there is none

    Session& session() const { return session_; }
    // One step of the history; “%1” in the name is the stage.
    virtual void edit(const QString& name, const QString& gesture,
                      const std::function<void(StageSpec&)>& change);

protected:
    QHBoxLayout* row() const { return row_; }

private:
    void take(std::size_t index, double value, bool continuing);
    void show_problems();

    Session& session_;
    std::vector<TrimField> fields_;
    std::vector<Field*> boxes_;
    QHBoxLayout* row_;
};

std::function<double(double, double)> steps_of(FieldSteps steps);

inline double canonical_per_unit(Dimension dimension, const char* unit) {
    return dimension == Dimension::time && std::string_view(unit) == "ms" ? 1e-3 : 1;
}

template <class Spec>
std::vector<TrimField> trim_fields() {
    std::vector<TrimField> all;
    for (const NumberField<Spec>& field : fields_of(Spec())) {
        const double canonical = canonical_per_unit(field.dimension, field.unit);
        all.push_back(
            {std::string(field.key),
             {QString::fromUtf8(field.caption), QString::fromUtf8(field.unit), field.dimension,
              field.steps == FieldSteps::whole ? 0 : 3, field.least < 0, steps_of(field.steps)},
             [get = field.get, canonical](const StageSpec& s) {
                 const auto value = get(std::get<Spec>(*s));
                 return value ? std::optional(*value * canonical) : value;
             },
             [](const StageSpec&, double) { return std::optional<double>(); },
             [set = field.set, canonical](StageSpec& s, double v) {
                 set(std::get<Spec>(s.edit()), v / canonical);
             },
             canonical});
    }
    return all;
}

} // namespace syntonon
