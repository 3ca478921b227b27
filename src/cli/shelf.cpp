// palin shelf: the workshop's materials listed, added, handed on.
#include <filesystem>

#include "base/text.hpp"
#include "commands.hpp"
#include "ledger/shopping.hpp"
#include "ledger/workshop.hpp"
#include "mesh/save.hpp"
#include "shelf/shelf_file.hpp"

namespace palinform::cli {
namespace {

struct AskedOfShelf {
  std::string workshop, add, to, shopping;
};

bool is_csv(const std::string& path) { return lower_ascii(std::filesystem::path(path).extension().string()) == ".csv"; }

Answer shelf(const AskedOfShelf& o, const Progress& progress) {
  std::error_code ec;
  if (!std::filesystem::exists(o.workshop, ec))
    return Error{"there is no such workshop", base_name(o.workshop), "palin demo DIR writes one to try."};
  auto workshop = Workshop::open(o.workshop);
  if (!workshop) return workshop.error();
  Workshop& w = **workshop;
  Json added = Json::array();
  if (!o.add.empty()) {
    const auto bytes = read_file(o.add);
    if (!bytes) return bytes.error();
    const auto given =
        is_csv(o.add) ? shelf_from_csv(*bytes, base_name(o.add)) : shelf_from_json(*bytes, base_name(o.add));
    if (!given) return given.error();
    // All of them or none.
    const auto all = w.together([&]() -> Status {
      for (const Material& m : *given) {
        const auto version = w.keep_material(m);
        if (!version) return version.error();
        added.push_back({{"id", m.id}, {"version", *version}});
      }
      return {};
    });
    if (!all) return all.error();
  }
  const auto materials = w.shelf();
  if (!materials) return materials.error();
  if (!o.to.empty()) {
    const std::string bytes = is_csv(o.to) ? shelf_to_csv(*materials) : shelf_to_json(*materials);
    if (auto ok = write_file(o.to, bytes); !ok) return ok.error();
  }
  Json list = Json::array();
  for (const Material& m : *materials)
    list.push_back({{"id", m.id},
                    {"kind", name_of(m.kind)},
                    {"name", m.name},
                    {"version", m.version},
                    {"retired", m.retired},
                    {"guesses", guesses(m)}});
  Json j{{"materials", std::move(list)}};
  if (!o.shopping.empty()) {
    auto rules = w.rules();
    if (!rules) return rules.error();
    Shop shop = with_shelf(starting_shop(), *materials);
    shop.rules = *std::move(rules);
    std::vector<std::string> left_out;
    const auto lines = shop_for_all(w, shop, now_text().substr(0, 10), nullptr, left_out, progress);
    if (!lines) return lines.error();
    if (auto ok = write_file(o.shopping, shopping_csv(*lines)); !ok) return ok.error();
    j["shopping"] = Json::array();
    for (const ShoppingLine& l : *lines)
      j["shopping"].push_back({{"material", l.material_id},
                               {"needed_g", l.needed_g},
                               {"there_g", l.there_g},
                               {"short_g", l.short_g},
                               {"packs", l.packs.words()},
                               {"cost", l.cost},
                               {"jobs", l.jobs}});
    j["not_reckoned"] = left_out;
  }
  if (!o.add.empty()) j["added"] = std::move(added);
  if (!o.to.empty()) j["file"] = o.to;
  return j;
}

}  // namespace

void add_shelf(CLI::App& app, Command& run) {
  auto o = std::make_shared<AskedOfShelf>();
  auto* c = app.add_subcommand("shelf", "The workshop's materials");
  c->add_option("WORKSHOP", o->workshop, "workshop.sqlite")->required();
  c->add_option("--add", o->add, "materials to add or change: .json or .csv (docs/shelf.md)");
  c->add_option("--shopping", o->shopping, "CSV of what all jobs together lack: plans each of them");
  c->add_option("--export", o->to, "where to write all of them: .json or .csv");
  c->callback([o, &run] { run = [o](const Progress& progress) -> Answer { return shelf(*o, progress); }; });
}

}  // namespace palinform::cli
