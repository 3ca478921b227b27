#pragma once
/// What the job sheet says, before anyone lays it out on paper.
#include <string>
#include <vector>

#include "overview/overview.hpp"
#include "picture/scene.hpp"

namespace palinform {

struct SheetTable {
  std::string heading;
  std::vector<std::string> columns;
  std::vector<std::vector<std::string>> rows;
  std::string note;
};

struct Sheet {
  std::string title, subtitle, date;
  std::vector<std::string> stops;  ///< printed on every page
  Scene scene;                     ///< the part, with its sides; empty without a mesh
  std::vector<SheetTable> tables;  ///< for the bench: the mould, weighing
  std::vector<SheetTable> record;  ///< on pages of their own: sizes, materials, panels, findings
  std::vector<std::string> steps;  ///< each with a box to tick
  std::vector<std::string> cautions;
  std::vector<std::string> boxes;  ///< labels of empty boxes to write in
};

Sheet make_sheet(const Job& job, const Planner& plan, const Shop& shop);

}  // namespace palinform
