// The card of openings and holes: its rows for pockets, given a slide or a piece, or left as they fall.
#include "split/holes_card.hpp"

#include <algorithm>
#include <QGridLayout>
#include <QHBoxLayout>

#include "base/text.hpp"
#include "job/apply.hpp"
#include "shell/desk.hpp"
#include "split/pocket_faces.hpp"
#include "stages/parting.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

bool HolesCard::pick_pocket(uint32_t triangle) {
  const auto has = [&](const std::vector<uint32_t>& faces) {
    return std::find(faces.begin(), faces.end(), triangle) != faces.end();
  };
  std::string found;
  if (const auto pins = desk_.plan().fresh(results::pins))
    for (size_t k = 0; k < pins->pockets.size(); ++k)
      if (has(pins->pockets[k].faces.triangles)) found = "slide-" + std::to_string(k + 1);
  if (const auto undercuts = desk_.plan().fresh(results::undercuts); found.empty() && undercuts)
    for (size_t k = 0; k < undercuts->undercuts.size(); ++k)
      if (has(undercuts->undercuts[k].triangles)) found = "locks-" + std::to_string(k + 1);
  if (found.empty()) return false;
  pocket_ = std::move(found);
  shown_.clear();
  refresh();
  return true;
}

void HolesCard::put_pockets(QGridLayout* grid, int& row) {
  const Units& u = desk_.units();
  const Job& job = desk_.job();
  const auto header = [&](const std::string& name, const QString& told, const QString& said, const Vec3& at) {
    const bool open = pocket_ == name;
    auto* head = put_head(grid, row, open, QStringLiteral("pocket-%1-row").arg(qs(name)), told, said);
    connect(head, &QPushButton::clicked, this, [this, name, at] {
      emit pointed(at);
      pocket_ = name;
      shown_.clear();
      refresh();
    });
    return open;
  };
  const auto put = [this](const QString& words, const Edit& edit, const QString& together = {}) {
    if (auto next = edited(desk_.job(), edit)) desk_.edit(*next, words, together);
  };
  const auto pins = desk_.plan().newest(results::pins);
  for (size_t k = 0; k < job.split.pockets.size(); ++k) {
    const PocketSlide& said = job.split.pockets[k];
    const SlidPocket* slid = pins && k < pins->pockets.size() ? &pins->pockets[k] : nullptr;
    const std::string name = "slide-" + std::to_string(k + 1);
    QString told = QStringLiteral("Pocket");
    // What it leaves locked matters more than how deep it is: one line holds either.
    if (slid && slid->faces.area_mm2 > 0)
      told += QStringLiteral(" · %1 mm², ").arg(qs(fixed(slid->faces.area_mm2, 0))) +
              (slid->faces.held_mm2 > 0.02 * slid->faces.area_mm2
                   ? QStringLiteral("%1 mm² left locked").arg(qs(fixed(slid->faces.held_mm2, 0)))
                   : QStringLiteral("%1 deep").arg(u.length_unit_text(slid->faces.deep_mm, 1)));
    const QString by = slid && slid->pin ? qs(pins->pins[*slid->pin].name) + QStringLiteral(" forms it")
                                         : QStringLiteral("no slide yet");
    if (!header(name, told, by, said.at_mm)) continue;
    auto* how = new Chips;
    how->add(QStringLiteral("As it falls"), QStringLiteral("pocket-%1-none").arg(k + 1));
    how->add(QStringLiteral("Slide"), QStringLiteral("pocket-%1-slide").arg(k + 1));
    how->set_current(1);
    connect(how, &Chips::chosen, this, [put, said](int to) {
      if (to == 0)
        put(QStringLiteral("pocket as it falls"), edits::SlidePocket{said.at_mm, said.draw, said.pull, false});
    });
    grid->addWidget(how, row, 0, 1, 1, Qt::AlignLeft);
    // At any angle: two figures that stay while the part is turned on the screen.
    auto* line = new QHBoxLayout;
    const DrawAngles now = angles_of(said.draw, said.pull);
    const auto angle = [&](const char* id, const QString& words, double value, double low, double high, auto with) {
      auto* field = new FigureField(words, QStringLiteral("pocket-%1-%2").arg(k + 1).arg(QLatin1String(id)), 84);
      field->show_value(value, 1, QStringLiteral("°"));
      field->set_range(low, high);
      field->setToolTip(
          QStringLiteral("Turned about the pull from the part's +x (of a pull along x from its +y); "
                         "raised from there toward the pull."));
      connect(field, &FigureField::entered, this, [put, said, with](double v) {
        put(QStringLiteral("slide turned"),
            edits::SlidePocket{said.at_mm, draw_of(with(angles_of(said.draw, said.pull), v), said.pull), said.pull},
            QStringLiteral("pocket-figure"));
      });
      line->addWidget(field);
    };
    angle("turned", QStringLiteral("Turned"), now.turned_deg, -360, 360, [](DrawAngles a, double v) {
      a.turned_deg = v;
      return a;
    });
    angle("raised", QStringLiteral("Raised"), now.raised_deg, -90, 90, [](DrawAngles a, double v) {
      a.raised_deg = v;
      return a;
    });
    line->addStretch(1);
    grid->addLayout(line, row++, 1, 1, 2);
  }
  const auto undercuts = desk_.plan().newest(results::undercuts);
  const auto bores = desk_.plan().newest(results::bores);
  const auto openings = desk_.plan().newest(results::openings);
  const auto pieces = desk_.plan().newest(results::pieces);
  const auto split = desk_.plan().newest(results::split);
  const auto master = desk_.plan().newest(results::master);
  if (!undercuts || !bores || !openings || !pieces || !split || !master) return;
  int told_of = 0;
  for (size_t k = 0; k < undercuts->undercuts.size() && told_of < 6; ++k) {
    const Undercut& c = undercuts->undercuts[k];
    const int piece = k < undercuts->piece.size() ? undercuts->piece[k] : -1;
    if (c.tunnel() || c.sealed() || bore_of(c, bores->bores) || opening_at(openings->found, c.centroid_mm)) continue;
    if (c.flexes && pocket_ != "locks-" + std::to_string(k + 1)) continue;  // let be, unless it was clicked
    ++told_of;
    const bool given = piece >= 0 && static_cast<size_t>(piece) < pieces->given;
    const QString told = QStringLiteral("Pocket · %1 deep behind a mouth of %2")
                             .arg(u.length_unit_text(c.reach_mm, 1), u.length_unit_text(c.mouth_mm, 1));
    const QString said = given      ? QStringLiteral("a piece of its own forms it")
                         : c.flexes ? QStringLiteral("the rubber flexes out")
                                    : QStringLiteral("it locks");
    if (!header("locks-" + std::to_string(k + 1), told, said, c.centroid_mm)) continue;
    // Along the piece that would form it; where none would, the way is looked for once it is asked for.
    const auto slide = [k, piece, undercuts, pieces, split, master]() -> std::optional<edits::SlidePocket> {
      const std::vector<uint32_t>& faces = undercuts->undercuts[k].triangles;
      if (faces.empty() || faces.back() >= master->mesh->triangles.size()) return std::nullopt;
      const Vec3& pull = split->split.pull;
      if (piece >= 0 && static_cast<size_t>(piece) < pieces->plan.pieces.size()) {
        const ExtraPiece& of = pieces->plan.pieces[static_cast<size_t>(piece)];
        if (const auto at = face_of_piece(undercuts->undercuts[k], of, *master->mesh))
          return edits::SlidePocket{*at, of.pull, pull};
      }
      const PocketSlide any{master->mesh->centre(faces.front()), {1, 0, 0}, pull};
      return edits::SlidePocket{any.at_mm, best_draw(*master->mesh, *master->pairs, *master->rays, any), pull};
    };
    auto* how = new Chips;
    how->add(QStringLiteral("As it falls"), QStringLiteral("locks-%1-none").arg(k + 1));
    how->add(QStringLiteral("Slide"), QStringLiteral("locks-%1-slide").arg(k + 1));
    if (piece >= 0) how->add(QStringLiteral("Piece of its own"), QStringLiteral("locks-%1-piece").arg(k + 1));
    how->set_current(given ? 2 : 0);
    connect(how, &Chips::chosen, this, [this, put, slide, piece, given, pieces](int to) {
      Job next = desk_.job();
      if (given) {
        auto without = edited(next, edits::DropPiece{static_cast<size_t>(piece)});
        if (!without) return;
        next = *std::move(without);
      }
      if (to > 0) {
        const auto by_slide = to == 1 ? slide() : std::nullopt;
        if (to == 1 && !by_slide) return;
        auto with = to == 1 ? edited(next, *by_slide)
                            : edited(next, edits::AddPiece{pieces->plan.pieces[static_cast<size_t>(piece)].pull});
        if (!with) return;
        next = *std::move(with);
        if (to == 1) pocket_ = "slide-" + std::to_string(next.split.pockets.size());
      }
      desk_.edit(next, to == 1   ? QStringLiteral("a slide forms the pocket")
                       : to == 2 ? QStringLiteral("a piece forms the pocket")
                                 : QStringLiteral("pocket as it falls"));
    });
    grid->addWidget(how, row++, 0, 1, 3, Qt::AlignLeft);
  }
}

}  // namespace palinform::app
