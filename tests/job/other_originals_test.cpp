// Other surviving originals of a part: each has its place in every size's readings.
#include <catch2/catch.hpp>

#include "job/other_originals.hpp"
#include "job/parts.hpp"

namespace tests_job_other_originals {

using namespace palinform;

TEST_CASE("a scanned original is read where its scan shows a size, and leaves nothing when it is taken out", "[job]") {
  Job j;
  j.original.sizes.resize(2);
  j.original.sizes[0].id = "s1", j.original.sizes[1].id = "s2";
  j.original.sizes[0].further_originals_mm = {{10.1}};  // one read by hand, without a name
  CHECK(names_of_originals(j.original) == std::vector<std::string>{"This one", "Original 2"});
  ScannedSize found;
  found.size_id = "s2", found.mm = 5.02;
  j = with_other_original(j, {"left hand", "worn", "abc", "left.ply"}, {found});
  CHECK(names_of_originals(j.original) == std::vector<std::string>{"This one", "Original 2", "left hand"});
  CHECK(j.original.sizes[0].further_originals_mm.size() == 1);
  REQUIRE(j.original.sizes[1].further_originals_mm.size() == 2);
  CHECK(j.original.sizes[1].further_originals_mm[0].empty());
  CHECK(j.original.sizes[1].further_originals_mm[1] == std::vector<double>{5.02});
  // Its scan is kept with the job's meshes.
  const auto meshes = further_meshes(j);
  CHECK(std::find(meshes.begin(), meshes.end(), "abc") != meshes.end());
  const Job without = without_other_original(j, 0);
  CHECK(names_of_originals(without.original) == std::vector<std::string>{"This one", "left hand"});
  CHECK(without.original.sizes[0].further_originals_mm.empty());
  CHECK(without.original.sizes[1].further_originals_mm == std::vector<std::vector<double>>{{5.02}});
  CHECK(without_other_original(j, 9).original == j.original);
}

}  // namespace tests_job_other_originals
