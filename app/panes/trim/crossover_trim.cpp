// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/crossover_trim.h"

#include "app/model/crossover_commands.h"
#include "app/panes/trim/trim_panels.h"
#include "app/widgets/titled_box.h"
#include "app/widgets/words.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <algorithm>
#include <array>

namespace syntonon {
namespace {

// The way is a choice of its own; heights stand on the page.
constexpr std::array keys_beside = {"way", "height_m"};

std::vector<TrimField> crossover_trim_fields() {
    auto fields = trim_fields<CrossoverSpec>();
    std::erase_if(fields, [](const TrimField& field) {
        return std::ranges::find(keys_beside, field.key) != keys_beside.end();
    });
    for (TrimField& field : fields) {
        field.format.places = field.format.dimension == Dimension::frequency ? 1 : 0;
    }
    return fields;
}

// An order that the family has.
int order_for(CrossoverFamily family, int order) {
    switch (family) {
    case CrossoverFamily::linkwitz_riley:
        return order + order % 2;
    case CrossoverFamily::butterworth:
        return order % 2 == 0 ? order - 1 : order;
    default:
        return order;
    }
}

} // namespace

CrossoverTrim::CrossoverTrim(Session& session, QWidget* parent)
    : FieldsTrim(session, crossover_trim_fields(), parent), family_(new QComboBox),
      ways_(new QComboBox), way_(new QComboBox) {
    row()->setSpacing(10);
    for (const auto& name : names_of_crossover_families()) {
        family_->addItem(text_of(name.title));
    }
    constexpr int most_ways = static_cast<int>(most_crossover_frequencies) + 1;
    for (int count = 2; count <= most_ways; ++count) {
        ways_->addItem(tr("%1 ways").arg(count));
    }
    family_->setAccessibleName(tr("Family"));
    ways_->setAccessibleName(tr("Number of ways"));
    way_->setAccessibleName(tr("This channel’s way"));
    row()->insertWidget(0, new TitledBox(tr("Family"), family_, 172));
    row()->insertWidget(1, new TitledBox(tr("Crosses over into"), ways_, 112));
    row()->insertWidget(2, new TitledBox(tr("This way"), way_, 118));
    constexpr int of_frequency = 92, of_other = 76;
    for (const auto& number : fields_of(CrossoverSpec())) {
        if (Field* box = field(number.key)) {
            box->setFixedWidth(number.dimension == Dimension::frequency ? of_frequency : of_other);
        }
    }
    connect(family_, &QComboBox::activated, this, &CrossoverTrim::choose_family);
    connect(ways_, &QComboBox::activated, this,
            [this](int index) { set_ways(this->session(), index + 2); });
    connect(way_, &QComboBox::activated, this, [this](int index) {
        if (const Channel* channel = this->session().channel()) {
            give_way(this->session(), index + 1, std::string(channel->id));
        }
    });
}

void CrossoverTrim::choose_family(int index) {
    const auto family = names_of_crossover_families()[static_cast<std::size_t>(index)].value;
    edit(tr("Choose another family for %1"), {}, [family](StageSpec& spec) {
        auto& crossover = std::get<CrossoverSpec>(spec.edit());
        crossover.family = family;
        crossover.order = order_for(family, crossover.order);
    });
}

void CrossoverTrim::show_stage(const Stage& stage) {
    FieldsTrim::show_stage(stage);
    const auto& spec = std::get<CrossoverSpec>(*stage.spec);
    family_->setCurrentIndex(static_cast<int>(spec.family));
    const int ways = ways_of(spec);
    ways_->setCurrentIndex(ways - 2);
    way_->clear();
    for (int way = 1; way <= ways; ++way) {
        way_->addItem(QString::fromStdString(way_name(way, ways)));
    }
    way_->setCurrentIndex(spec.way - 1);
}

TrimPanel* make_panel(const CrossoverSpec&, Session& session) {
    return new CrossoverTrim(session);
}

void offer(const CrossoverSpec& spec, std::vector<NewStage>& offers) {
    offers.push_back({QObject::tr("Crossover"), spec});
}

} // namespace syntonon
