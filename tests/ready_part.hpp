#pragma once
/// A mesh with its edges and its rays, as most questions about a part want it. Tests add the question.
#include "mesh/rays.hpp"
#include "mesh/topology.hpp"

struct ReadyPart {
  palinform::TriMesh mesh;
  palinform::EdgePairs pairs;
  std::shared_ptr<const palinform::RayScene> rays;
  explicit ReadyPart(palinform::TriMesh m)
      : mesh(std::move(m)), pairs(palinform::pair_edges(mesh)), rays(*palinform::RayScene::build(mesh)) {}
};
