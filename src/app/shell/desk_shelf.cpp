// Desk: the shelf, kept and read from files.
#include <QFileInfo>

#include "base/text.hpp"
#include "ledger/others.hpp"
#include "ledger/shopping.hpp"
#include "mesh/save.hpp"
#include "shelf/shelf_file.hpp"
#include "shell/desk.hpp"
#include "stages/weighing.hpp"

namespace palinform::app {

bool Desk::keep_material(const Material& m) {
  if (const auto kept = workshop_->keep_material(m); !kept) {
    emit message(qs(kept.error().text()), true);
    return false;
  }
  shelf_changed();
  return true;
}

bool Desk::retire_material(const std::string& id) {
  if (const auto ok = workshop_->retire_material(id); !ok) {
    emit message(qs(ok.error().text()), true);
    return false;
  }
  shelf_changed();
  return true;
}

void Desk::read_shelf(const QString& path) {
  const auto refused = [&](const Error& e) { emit message(qs(e.text()), true); };
  const auto text = read_file(path.toStdString());
  if (!text) return refused(text.error());
  const bool csv = path.endsWith(QLatin1String(".csv"), Qt::CaseInsensitive);
  const std::string name = QFileInfo(path).fileName().toStdString();
  const auto read = csv ? shelf_from_csv(*text, name) : shelf_from_json(*text, name);
  if (!read) return refused(read.error());
  const auto kept = workshop_->together([&]() -> Status {
    for (const Material& m : *read)
      if (const auto one = workshop_->keep_material(m); !one) return one.error();
    return {};
  });
  if (!kept) return refused(kept.error());
  shelf_changed();
  emit message(qs(counted(static_cast<long long>(read->size()), "material", "materials")) +
                   QStringLiteral(" read from ") + qs(name),
               false);
}

bool Desk::keep_rules(const Rules& rules) {
  if (const auto ok = workshop_->keep_rules(rules); !ok) {
    emit message(qs(ok.error().text()), true);
    return false;
  }
  // No key of a result names the rules, so none of them may be remembered.
  store_ = std::make_shared<ResultStore>();
  shelf_changed();
  return true;
}

bool Desk::keep_equipment(const Equipment& equipment) {
  if (const auto ok = workshop_->keep_equipment(equipment); !ok) {
    emit message(qs(ok.error().text()), true);
    return false;
  }
  books_.equipment = equipment;
  lay_round_others();
  look_at_shop();
  replan();
  emit changed();
  return true;
}

bool Desk::keep_trial(const Trial& trial) {
  if (const auto ok = workshop_->keep_trial(trial); !ok) {
    emit message(qs(ok.error().text()), true);
    return false;
  }
  books_changed();
  return true;
}

void Desk::take_materials(const Job& job) {
  QStringList brought;
  for (const auto* copy : {&job.mix.rubber, &job.mix.resin}) {
    if (!*copy || shop_.bottle((*copy)->id)) continue;
    if (workshop_->keep_material(**copy)) brought << qs((*copy)->name);
  }
  if (brought.isEmpty()) return;
  shelf_changed();
  emit message(
      QStringLiteral("On the shelf since this job brought it along: %1.").arg(brought.join(QStringLiteral(", "))),
      false);
}

void Desk::write_shelf(const QString& path) {
  const bool csv = path.endsWith(QLatin1String(".csv"), Qt::CaseInsensitive);
  const auto ok = write_file(path.toStdString(), csv ? shelf_to_csv(shop_.bottles) : shelf_to_json(shop_.bottles));
  emit message(ok ? QStringLiteral("Written: ") + path : qs(ok.error().text()), !ok);
}

void Desk::look_for_others() {
  run_errand(
      QStringLiteral("what the other jobs cast"),
      [this, mine = job(), shop = shop_, store = store_](const Progress& progress) -> std::function<void()> {
        std::vector<std::string> left_out;
        const auto found = cavities_of_others(*workshop_, shop, mine, store, left_out, progress);
        if (!found) return [this, e = found.error()] { emit message(qs(e.text()), true); };
        return [this, shares = *found, id = mine.id, with = mine.mix, left_out] {
          to_cast_ = shares, to_cast_for_ = id, to_cast_with_ = with;
          for (const std::string& name : left_out) emit message(QStringLiteral("Not reckoned: ") + qs(name), false);
          emit changed();
        };
      },
      true);
}

const std::optional<std::vector<CavityShare>>& Desk::others_to_cast() const {
  static const std::optional<std::vector<CavityShare>> none;
  if (!has_job_ || to_cast_for_ != job().id) return none;
  // Another material, colour or filler since: those were other jobs' mates.
  return cast_alike(job().mix, to_cast_with_) ? to_cast_ : none;
}

std::optional<Result<SharedBatch>> Desk::shared_batch(const std::vector<std::string>& without) const {
  const auto mix = plan().fresh(results::mix);
  auto others = others_to_cast();
  if (!mix || !others || others->empty()) return std::nullopt;
  std::erase_if(*others, [&](const CavityShare& c) {
    return std::find(without.begin(), without.end(), c.job_id) != without.end();
  });
  return batch_with_others(*mix, job(), *std::move(others), shop_);
}

void Desk::write_shopping(const QString& path) {
  run_errand(QStringLiteral("what to buy"),
             [this, path, shop = shop_, store = store_,
              today = books_.today](const Progress& progress) -> std::function<void()> {
               std::vector<std::string> left_out;
               const auto lines = shop_for_all(*workshop_, shop, today, store, left_out, progress);
               if (!lines) return [this, e = lines.error()] { emit message(qs(e.text()), true); };
               const auto ok = write_file(path.toStdString(), shopping_csv(*lines));
               if (!ok) return [this, e = ok.error()] { emit message(qs(e.text()), true); };
               QString told = lines->empty() ? QStringLiteral("Nothing is short. Written: ") + path
                                             : qs(counted(static_cast<long long>(lines->size()), "material is short",
                                                          "materials are short")) +
                                                   QStringLiteral(". Written: ") + path;
               for (const std::string& name : left_out) told += QStringLiteral(" · not reckoned: ") + qs(name);
               return [this, told] { emit message(told, false); };
             });
}

}  // namespace palinform::app
