#include <catch2/catch.hpp>
#include <cmath>
#include <cstring>
#include <numbers>
#include <random>

#include "base/zip.hpp"
#include "ledger/archive.hpp"
#include "mesh/feature.hpp"
#include "mesh/load.hpp"
#include "mesh/rays.hpp"
#include "mesh/repair.hpp"
#include "mesh/save.hpp"
#include "mesh/soundness.hpp"
#include "mesh/topology.hpp"
#include "shapes.hpp"

namespace tests_mesh_mesh {

using namespace palinform;

TEST_CASE("cube and sphere measure as they must (M1)", "[mesh]") {
  const auto cube = measure(shapes::box({0, 0, 0}, {1, 1, 1}));
  CHECK(cube.volume_mm3 == Approx(1).epsilon(1e-12));
  CHECK(cube.area_mm2 == Approx(6).epsilon(1e-12));
  CHECK(length(cube.centroid_mm - Vec3{0.5, 0.5, 0.5}) < 1e-12);
  const auto ball = measure(shapes::icosphere(10, 4));
  CHECK(std::abs(ball.volume_mm3 / 4188.79 - 1) < 0.003);
  CHECK(length(ball.centroid_mm) < 1e-9);
}

TEST_CASE("moving and turning a part changes no measure; scaling follows the powers", "[mesh]") {
  const TriMesh m = shapes::bored_box({30, 20, 6}, 4, 2, 48);
  const auto a = measure(m), b = measure(transformed(m, shapes::odd_turn()));
  CHECK(b.volume_mm3 == Approx(a.volume_mm3).epsilon(1e-10));
  CHECK(b.area_mm2 == Approx(a.area_mm2).epsilon(1e-10));
  CHECK(length(shapes::odd_turn().point(a.centroid_mm) - b.centroid_mm) < 1e-8);
  CHECK(measure(scaled(m, 2)).volume_mm3 == Approx(8 * a.volume_mm3));
  // Bore volume is what the box lacks: 60·40·12 minus a 48-gon prism.
  const double gon = 0.5 * 48 * 16 * std::sin(2 * std::numbers::pi / 48) * 12;
  CHECK(a.volume_mm3 == Approx(60 * 40 * 12 - gon).epsilon(1e-9));
}

TEST_CASE("every format gives the same solid back", "[mesh]") {
  const TriMesh m = shapes::torus(20, 6, 40, 20);
  const double volume = measure(m).volume_mm3;
  shapes::TempDir dir;
  REQUIRE(save_mesh(m, dir / "t.stl"));
  REQUIRE(save_mesh(m, dir / "t.3mf"));
  REQUIRE(write_file(dir / "t.ply", ply_bytes(m)));
  std::string obj = "# comment\no torus\n", ascii = "solid t\n",
              ply = "ply\nformat ascii 1.0\nelement vertex " + std::to_string(m.points.size()) +
                    "\nproperty float x\nproperty float y\nproperty float z\nproperty uchar red\nelement face " +
                    std::to_string(m.triangles.size()) + "\nproperty list uchar int vertex_index\nend_header\n";
  char line[256];
  for (const Vec3& p : m.points) {
    std::snprintf(line, sizeof line, "v %.9f %.9f %.9f\n", p.x, p.y, p.z), obj += line;
    std::snprintf(line, sizeof line, "%.9f %.9f %.9f 7\n", p.x, p.y, p.z), ply += line;
  }
  for (size_t t = 0; t < m.triangles.size(); ++t) {
    const Triangle& v = m.triangles[t];
    std::snprintf(line, sizeof line, "f %u/1/1 %u//2 %u\n", v[0] + 1, v[1] + 1, v[2] + 1), obj += line;
    std::snprintf(line, sizeof line, "3 %u %u %u\n", v[0], v[1], v[2]), ply += line;
    ascii += "facet normal 0 0 0\n outer loop\n";
    for (int k = 0; k < 3; ++k)
      std::snprintf(line, sizeof line, "  vertex %.9e %.9e %.9e\n", m.corner(t, k).x, m.corner(t, k).y,
                    m.corner(t, k).z),
          ascii += line;
    ascii += " endloop\nendfacet\n";
  }
  ascii += "endsolid t\n";
  shapes::write_text(dir / "t.obj", obj);
  shapes::write_text(dir / "a.stl", ascii);
  shapes::write_text(dir / "a.ply", ply);
  for (const char* name : {"t.stl", "a.stl", "t.obj", "t.ply", "a.ply", "t.3mf"}) {
    INFO(name);
    const auto back = load_mesh(dir / name);
    REQUIRE(back);
    CHECK(back->mesh.points.size() == m.points.size());
    CHECK(back->mesh.triangles.size() == m.triangles.size());
    CHECK(measure(back->mesh).volume_mm3 == Approx(volume).epsilon(1e-5));
    CHECK(check_soundness(back->mesh)->sound());
  }
  // Quads are cut, negative indices count from the end.
  shapes::write_text(dir / "q.obj", "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf -4 -3 -2 -1\n");
  CHECK(load_mesh(dir / "q.obj")->mesh.triangles.size() == 2);
  // Same mesh, same bytes.
  CHECK(*threemf_bytes(m) == *threemf_bytes(m));
  CHECK(stl_bytes(m) == stl_bytes(m));
}

TEST_CASE("units: asked for, named by the file, guessed", "[mesh]") {
  const TriMesh m = shapes::box({0, 0, 0}, {2.4, 1, 1});
  const auto inch = read_mesh(stl_bytes(m), "x.stl", LengthUnit::inch);
  REQUIRE(inch);
  CHECK(measure(inch->mesh).box_mm.size().x == Approx(60.96));
  CHECK_FALSE(inch->unit_guess);
  const auto bare = read_mesh(stl_bytes(m), "x.stl");
  REQUIRE(bare);
  CHECK(bare->unit_guess == LengthUnit::inch);
  CHECK(read_mesh(stl_bytes(scaled(m, 30)), "x.stl")->unit_guess == std::nullopt);
  const auto packed = read_mesh(*threemf_bytes(m), "x.3mf");
  REQUIRE(packed);
  CHECK(packed->unit_from_file);
  CHECK_FALSE(packed->unit_guess);
}

TEST_CASE("3MF: items, components and mirrored transforms are placed", "[mesh]") {
  const auto wrap = [](const std::string& model) { return *make_zip({{"3D/3dmodel.model", model}}); };
  const std::string tetra =
      "<mesh><vertices><vertex x=\"0\" y=\"0\" z=\"0\"/><vertex x=\"1\" y=\"0\" z=\"0\"/><vertex x=\"0\" y=\"1\" "
      "z=\"0\"/><vertex x=\"0\" y=\"0\" z=\"1\"/></vertices>"
      "<triangles><triangle v1=\"0\" v2=\"2\" v3=\"1\"/><triangle v1=\"0\" v2=\"1\" v3=\"3\"/><triangle v1=\"1\" "
      "v2=\"2\" v3=\"3\"/><triangle v1=\"0\" v2=\"3\" v3=\"2\"/></triangles></mesh>";
  const auto two =
      read_mesh(wrap("<model unit=\"inch\"><resources><object id=\"1\">" + tetra +
                     "</object><object id=\"2\"><components><component objectid=\"1\"/>"
                     "<component objectid=\"1\" transform=\"-1 0 0 0 1 0 0 0 1 -5 0 "
                     "0\"/></components></object></resources><build><item objectid=\"2\"/></build></model>"),
                "two.3mf");
  REQUIRE(two);
  CHECK(two->unit == LengthUnit::inch);
  CHECK(two->mesh.triangles.size() == 8);
  CHECK(measure(two->mesh).volume_mm3 == Approx(2.0 / 6 * std::pow(25.4, 3)));  // the mirror image counts positive too
  const auto loop =
      read_mesh(wrap("<model><resources><object id=\"1\"><components><component "
                     "objectid=\"1\"/></components></object></resources><build><item objectid=\"1\"/></build></model>"),
                "loop.3mf");
  REQUIRE_FALSE(loop);
  CHECK(loop.error().text().find("without end") != std::string::npos);
  // Coordinates are whole tokens with a full stop, whatever the user's locale; nothing is taken for nought.
  for (const char* x : {"abc", "30,75", "", "1.5mm", "nan"}) {
    std::string bad = tetra;
    bad.replace(bad.find("x=\"1\""), 5, std::string("x=\"") + x + "\"");
    const auto refused = read_mesh(wrap("<model><resources><object id=\"1\">" + bad +
                                        "</object></resources><build><item objectid=\"1\"/></build></model>"),
                                   "bad.3mf");
    INFO(x);
    REQUIRE_FALSE(refused);
    CHECK(refused.error().text().find("has no number as its x") != std::string::npos);
  }
}

TEST_CASE("3MF: namespaces by any prefix, and objects in model parts of their own", "[mesh]") {
  const auto tetra = [](const std::string& n) {
    return "<" + n + "object id=\"1\"><" + n + "mesh><" + n + "vertices><" + n + "vertex x=\"0\" y=\"0\" z=\"0\"/><" +
           n + "vertex x=\"1\" y=\"0\" z=\"0\"/><" + n + "vertex x=\"0\" y=\"1\" z=\"0\"/><" + n +
           "vertex x=\"0\" y=\"0\" z=\"1\"/></" + n + "vertices><" + n + "triangles><" + n +
           "triangle v1=\"0\" v2=\"2\" v3=\"1\"/><" + n + "triangle v1=\"0\" v2=\"1\" v3=\"3\"/><" + n +
           "triangle v1=\"1\" v2=\"2\" v3=\"3\"/><" + n + "triangle v1=\"0\" v2=\"3\" v3=\"2\"/></" + n +
           "triangles></" + n + "mesh></" + n + "object>";
  };
  const std::string core = "xmlns:m=\"http://schemas.microsoft.com/3dmanufacturing/core/2015/02\"";
  const auto prefixed = read_mesh(
      *make_zip({{"3D/3dmodel.model", "<m:model unit=\"centimeter\" " + core + "><m:resources>" + tetra("m:") +
                                          "</m:resources><m:build><m:item objectid=\"1\"/>"
                                          "</m:build></m:model>"}}),
      "prefixed.3mf");
  REQUIRE(prefixed);
  CHECK(measure(prefixed->mesh).volume_mm3 == Approx(1000.0 / 6));
  // Two parts, each with an object 1 of its own; the second is twice as large by its component's transform.
  const ZipContent parts{
      {"3D/3dmodel.model",
       "<model unit=\"millimeter\" "
       "xmlns:p=\"http://schemas.microsoft.com/3dmanufacturing/production/2015/06\"><resources>"
       "<object id=\"9\"><components><component p:path=\"/3D/Objects/a.model\" objectid=\"1\"/>"
       "<component p:path=\"/3D/Objects/b.model\" objectid=\"1\" transform=\"2 0 0 0 2 0 0 0 2 10 0 0\"/>"
       "</components></object></resources><build><item objectid=\"9\"/></build></model>"},
      {"3D/Objects/a.model", "<model><resources>" + tetra("") + "</resources></model>"},
      {"3D/Objects/b.model", "<model><resources>" + tetra("") + "</resources></model>"}};
  const auto both = read_mesh(*make_zip(parts), "parts.3mf");
  REQUIRE(both);
  CHECK(both->mesh.triangles.size() == 8);
  CHECK(measure(both->mesh).volume_mm3 == Approx(9.0 / 6));
  ZipContent missing = parts;
  missing.erase("3D/Objects/b.model");
  const auto refused = read_mesh(*make_zip(missing), "missing.3mf");
  REQUIRE_FALSE(refused);
  CHECK(refused.error().text().find("not there") != std::string::npos);
}

TEST_CASE("an archive locked with a password is called that, not damaged", "[mesh]") {
  // Bit 0 of the flags, in the entry's head and in the directory, says it is encrypted.
  std::string zip = *make_zip({{"3D/3dmodel.model", "<model/>"}});
  const size_t head = zip.find("PK\x03\x04"), directory = zip.find("PK\x01\x02");
  REQUIRE(directory != std::string::npos);
  zip[head + 6] = static_cast<char>(zip[head + 6] | 1);
  zip[directory + 8] = static_cast<char>(zip[directory + 8] | 1);
  const auto refused = read_mesh(zip, "locked.3mf");
  REQUIRE_FALSE(refused);
  CHECK(refused.error().text().find("locked with a password") != std::string::npos);
  CHECK(refused.error().text().find("damaged") == std::string::npos);
}

TEST_CASE("bad files are refused in words with the file's name", "[mesh]") {
  shapes::TempDir dir;
  const TriMesh cube = shapes::box({0, 0, 0}, {1, 1, 1});
  const std::string stl = stl_bytes(cube);
  const auto refused = [&](const std::string& name, const std::string& content, const std::string& word) {
    shapes::write_text(dir / name, content);
    const auto r = load_mesh(dir / name);
    INFO(name << ": " << (r ? "accepted" : r.error().text()));
    REQUIRE_FALSE(r);
    CHECK(r.error().where == name);
    CHECK(r.error().what.find(word) != std::string::npos);
    CHECK_FALSE(r.error().remedy.empty());
  };
  refused("empty.stl", "", "empty");
  refused("cut.stl", stl.substr(0, stl.size() - 120), "cut short");
  refused("short.stl", stl.substr(0, 40), "bytes");
  refused("letter.stl", std::string(500, 'a') + "Dear all", "does not read as an STL");
  refused("words.stl", "solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 zero\n", "line 4");
  refused("stops.stl", "solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\n", "stops");
  refused("none.stl", "solid x\nendsolid x\n", "no faces");
  refused("none.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\n", "no faces");
  refused("far.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", "line 4");
  refused("flat.obj", "v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\n", "zero area");
  refused("nan.obj", "v 0 0 nan\nv 1 0 0\nv 2 0 0\nf 1 2 3\n", "coordinates");
  refused("head.ply", "ply\nformat ascii 1.0\nelement vertex 3\n", "header");
  refused("count.ply", "ply\nformat ascii 1.0\nelement vertex 999999999999\nproperty float x\nend_header\n1\n",
          "cut short");
  refused("cut.ply", ply_bytes(cube).substr(0, 300), "cut short");
  refused("no.3mf", "PK nothing", "archive");
  refused("drawing.dwg", "x", "no mesh file");
  std::string with_nan = stl;
  const float nan = NAN;
  std::memcpy(with_nan.data() + 84 + 12, &nan, 4);
  refused("nan.stl", with_nan, "no usable number");
  std::string huge(84, '\0');
  const uint32_t many = 6'000'000;
  std::memcpy(huge.data() + 80, &many, 4);
  huge.resize(84 + size_t{many} * 50);
  refused("huge.stl", huge, "limit");
  CHECK_FALSE(load_mesh(dir / "missing.stl"));
  CHECK_FALSE(load_mesh(dir.str()));
}

TEST_CASE("random and damaged bytes never crash a reader", "[mesh]") {
  std::mt19937 rnd(20261125);
  const TriMesh m = shapes::icosphere(5, 1);
  const std::vector<std::pair<std::string, std::string>> good = {
      {"a.stl", stl_bytes(m)},
      {"b.ply", ply_bytes(m)},
      {"c.3mf", *threemf_bytes(m)},
      {"d.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nf 1 2 3\nf 1 3 4\nf 1 4 2\nf 2 4 3\n"},
      {"e.stl",
       "solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid "
       "a\n"}};
  int refused = 0;
  for (const auto& [name, bytes] : good) {
    REQUIRE(read_mesh(bytes, name));
    for (int i = 0; i < 300; ++i) {
      std::string b = bytes;
      const int edits = 1 + static_cast<int>(rnd() % 6);
      for (int k = 0; k < edits; ++k) b[rnd() % b.size()] = static_cast<char>(rnd());
      if (i % 3 == 0) b.resize(rnd() % (b.size() + 1));
      const auto r = read_mesh(b, name);
      if (!r) {
        ++refused;
        CHECK_FALSE(r.error().what.empty());
      } else {
        (void)check_soundness(r->mesh);
      }
    }
    std::string noise(2000, '\0');
    for (char& c : noise) c = static_cast<char>(rnd());
    CHECK_FALSE(read_mesh(noise, name));
  }
  CHECK(refused > 300);
}

TEST_CASE("soundness tells each kind of fault", "[mesh]") {
  const TriMesh cube = shapes::box({0, 0, 0}, {10, 10, 10}, 2);
  CHECK(check_soundness(cube)->sound());
  CHECK(check_soundness(cube)->components == 1);
  TriMesh open = cube;
  open.triangles.pop_back();
  CHECK(check_soundness(open)->open_edges == 3);
  TriMesh one_turned = cube;
  std::swap(one_turned.triangles[3][0], one_turned.triangles[3][1]);
  CHECK(check_soundness(one_turned)->flipped_components == 1);
  CHECK(check_soundness(shapes::turned_over(cube))->flipped_components == 1);
  TriMesh flat = cube;
  flat.triangles.push_back({0, 1, 1});
  CHECK(check_soundness(flat)->degenerate_faces == 1);
  // A cavity is sound when its skin faces into the void, unsound when it faces out.
  const TriMesh inner = shapes::box({3, 3, 3}, {6, 6, 6});
  CHECK(check_soundness(shapes::joined(cube, shapes::turned_over(inner)))->sound());
  CHECK(check_soundness(shapes::joined(cube, inner))->flipped_components == 1);
  // Overlapping cubes cut one another; cubes that only share a face plane from outside do not count as sound
  // neighbours.
  const auto cut = check_soundness(shapes::joined(cube, transformed(cube, Transform::move({5.3, 4.1, 3.7}))));
  CHECK(cut->self_intersections > 0);
  CHECK_FALSE(cut->sound());
  CHECK(check_soundness(shapes::joined(cube, transformed(cube, Transform::move({25, 0, 0}))))->sound());
  // Three sheets on one edge.
  TriMesh fin = cube;
  fin.points.push_back({-5, -5, 5});
  fin.triangles.push_back({cube.triangles[0][0], cube.triangles[0][1], static_cast<uint32_t>(fin.points.size() - 1)});
  CHECK(check_soundness(fin)->non_manifold_edges == 1);
}

TEST_CASE("self-intersections agree with brute force on random triangles", "[mesh]") {
  // Two long thin crossing triangles, a fold, and a touching pair, counted by hand.
  TriMesh m;
  m.points = {{0, 0, 0}, {10, 0, 0}, {0, 10, 0}, {2, 2, -5}, {2, 2, 5}, {3, 3, 5}};
  m.triangles = {{0, 1, 2}, {3, 4, 5}};
  CHECK(self_intersections(m)->count == 1);
  m.points[3] = {20, 20, -5}, m.points[4] = {20, 20, 5}, m.points[5] = {21, 21, 5};
  CHECK(self_intersections(m)->count == 0);
  TriMesh fold;  // second face lies back upon the first
  fold.points = {{0, 0, 0}, {10, 0, 0}, {5, 10, 0}, {5, 9, 0}};
  fold.triangles = {{0, 1, 2}, {1, 0, 3}};
  CHECK(self_intersections(fold)->count == 1);
  fold.points[3] = {5, -9, 0};
  CHECK(self_intersections(fold)->count == 0);
}

TEST_CASE("repair: soup, holes, turned faces and stray matter become a sound solid", "[mesh]") {
  const TriMesh good = shapes::torus(20, 6, 48, 24);
  TriMesh bad;
  for (const Triangle& t : good.triangles) {  // every face its own points, jittered below the merge reach
    const uint32_t n = static_cast<uint32_t>(bad.points.size());
    for (int k = 0; k < 3; ++k)
      bad.points.push_back(good.points[t[k]] + Vec3{1e-6, -1e-6, 1e-6} * static_cast<double>((n + k) % 3));
    bad.triangles.push_back({n, n + 1, n + 2});
  }
  for (size_t t = 0; t < bad.triangles.size(); t += 5) std::swap(bad.triangles[t][0], bad.triangles[t][1]);
  bad.triangles.push_back({0, 0, 1});
  bad.triangles.erase(bad.triangles.begin() + 100, bad.triangles.begin() + 104);
  CHECK_FALSE(check_soundness(bad)->sound());
  const auto r = repair(bad);
  REQUIRE(r);
  const auto s = check_soundness(r->mesh);
  INFO("open " << s->open_edges << " turned " << s->flipped_components << " cut " << s->self_intersections);
  CHECK(s->sound());
  CHECK(r->count.merged_points > 0);
  CHECK(r->count.removed_faces >= 1);
  CHECK(r->count.turned_faces > 0);
  CHECK(r->count.filled_holes >= 1);
  CHECK(measure(r->mesh).volume_mm3 == Approx(measure(good).volume_mm3).epsilon(2e-3));
  // Inside out: turned back, and the change in volume says so.
  const auto back = repair(shapes::turned_over(good));
  REQUIRE(back);
  CHECK(check_soundness(back->mesh)->sound());
  CHECK(back->count.volume_change_mm3 == Approx(2 * measure(good).volume_mm3));
  // A sound mesh is left as it is.
  const auto same = repair(good);
  CHECK(same->mesh.triangles.size() == good.triangles.size());
  CHECK(same->count.turned_faces == 0);
  CHECK(std::abs(same->count.volume_change_mm3) < 1e-9);
}

TEST_CASE("repair stitches seams that gape a little", "[mesh]") {
  // Two half boxes whose rims differ by 5 µm on a 10 mm part.
  TriMesh whole = shapes::box({0, 0, 0}, {10, 10, 10}, 4), apart;
  for (const Triangle& t : whole.triangles) {
    const uint32_t n = static_cast<uint32_t>(apart.points.size());
    const double shift = whole.points[t[0]].z + whole.points[t[1]].z + whole.points[t[2]].z > 15 ? 5e-4 : 0;
    for (int k = 0; k < 3; ++k) apart.points.push_back(whole.points[t[k]] + Vec3{0, 0, shift});
    apart.triangles.push_back({n, n + 1, n + 2});
  }
  const auto r = repair(apart);
  REQUIRE(r);
  CHECK(r->count.stitched_edges > 0);
  CHECK(check_soundness(r->mesh)->sound());
}

TEST_CASE("rays: crossings of a box, closest points, occlusion", "[mesh]") {
  const TriMesh m = shapes::box({100, 100, 100}, {110, 120, 130}, 3);  // far from the origin on purpose
  const auto rays = *RayScene::build(m);
  const auto hits = rays->all_hits({95, 110, 115}, {1, 0, 0});
  REQUIRE(hits.size() == 2);
  CHECK(hits[0].t_mm == Approx(5).margin(1e-4));
  CHECK(hits[0].entering);
  CHECK(hits[1].t_mm == Approx(15).margin(1e-4));
  CHECK_FALSE(hits[1].entering);
  CHECK_FALSE(rays->first_hit({95, 110, 115}, {-1, 0, 0}));
  const auto near = rays->closest({105, 110, 140});
  CHECK(near.distance_mm == Approx(10).margin(1e-4));
  CHECK(length(near.point_mm - Vec3{105, 110, 130}) < 1e-4);
  CHECK(rays->closest({90, 90, 90}).distance_mm == Approx(std::sqrt(300.0)).margin(1e-4));
  // On a ball every line through the middle crosses twice, a diameter apart.
  const auto ball = *RayScene::build(shapes::icosphere(10, 4));
  std::mt19937 rnd(3);
  std::uniform_real_distribution<double> u(-1, 1);
  for (int i = 0; i < 200; ++i) {
    const Vec3 d = unit(Vec3{u(rnd), u(rnd), u(rnd)});
    const auto h = ball->all_hits(d * -30, d);
    REQUIRE(h.size() == 2);
    CHECK(h[1].t_mm - h[0].t_mm == Approx(20).epsilon(0.01));
  }
}

TEST_CASE("the face under the finger: plane, bore, boss", "[mesh]") {
  for (const bool turn : {false, true}) {
    TriMesh m = shapes::bored_box({30, 20, 6}, 4, 2, 96);
    Transform t = turn ? shapes::odd_turn() : Transform{};
    m = transformed(m, t);
    const EdgePairs pairs = pair_edges(m);
    const auto rays = *RayScene::build(m);
    const auto face_at = [&](const Vec3& from, const Vec3& dir) {
      return fit_face(m, pairs, rays->first_hit(t.point(from), t.direction(dir))->triangle);
    };
    const FaceFit top = face_at({20, 10, 50}, {0, 0, -1});
    CHECK(top.kind == FaceKind::plane);
    CHECK(dot(top.direction, t.direction({0, 0, 1})) == Approx(1).epsilon(1e-9));
    const FaceFit bore = face_at({0, 0, 0.3}, {1, 0.02, 0});
    REQUIRE(bore.kind == FaceKind::bore);
    CHECK(bore.diameter_mm == Approx(8).epsilon(2e-3));
    CHECK(bore.depth_mm == Approx(12).epsilon(1e-6));
    CHECK(std::abs(dot(bore.direction, t.direction({0, 0, 1}))) == Approx(1).epsilon(1e-6));
    CHECK(length(bore.point_mm - t.point({0, 0, 0})) < 0.01);
  }
  const TriMesh post = shapes::cylinder(7, 20, 96);
  const auto rays = *RayScene::build(post);
  const FaceFit boss = fit_face(post, pair_edges(post), rays->first_hit({20, 0.1, 9}, {-1, 0, 0})->triangle);
  CHECK(boss.kind == FaceKind::boss);
  CHECK(boss.diameter_mm == Approx(14).epsilon(2e-3));
}

TEST_CASE("the demo bracket's bores are found at their drawn sizes", "[mesh]") {
  const auto loaded = load_mesh(std::string(PALINFORM_DEMO_MESHES) + "/pen_arm_bracket.stl");
  REQUIRE(loaded);
  const TriMesh& m = loaded->mesh;
  CHECK(check_soundness(m)->sound());
  const EdgePairs pairs = pair_edges(m);
  const auto rays = *RayScene::build(m);
  const auto pen = fit_face(m, pairs, rays->first_hit({31, 0, 12}, {0.98, 0.2, 0})->triangle);
  CHECK(pen.kind == FaceKind::bore);
  CHECK(pen.diameter_mm == Approx(8).margin(0.01));
  const auto cross_bore = fit_face(m, pairs, rays->first_hit({-39, 0, 29}, {0, 0.05, 1})->triangle);
  CHECK(cross_bore.kind == FaceKind::bore);
  CHECK(cross_bore.diameter_mm == Approx(4.2).margin(0.01));
  CHECK(measure(m).box_mm.size().x == Approx(92).margin(0.01));
}

TEST_CASE("long mesh work stops when asked", "[mesh]") {
  const TriMesh m = shapes::torus(20, 6, 200, 100);
  Progress p;
  p.cancel();
  const auto r = check_soundness(m, true, p);
  REQUIRE_FALSE(r);
  CHECK(r.error().cancelled);
  CHECK(repair(m, {}, p).error().cancelled);
}

}  // namespace tests_mesh_mesh
