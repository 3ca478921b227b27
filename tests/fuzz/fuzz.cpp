// Every reader against mutated input: fuzz [ROUNDS [SEED [READER]]]. Each round takes a good file, changes it, and
// reads it: the reader must give a value or an error in words. A crash or a hang is the find; what was read last is
// left in fuzz-last.bin. The default is a short run for ./run test; a million rounds of each are run by hand, best
// under the sanitizers (cmake --preset sanitize). STEP is read as the program reads it, in a process of its own: what
// kills that one must come back as a refusal. A million of those would take most of a day of starting processes;
// `fuzz ROUNDS SEED step-forked` reads in forks of this one instead, fifty files each: the same reader, the same
// limits, and a fork that dies is what the program's own child would have caught.
#include <fcntl.h>
#include <sys/mman.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <functional>
#include <map>
#include <random>

#include "drawn/file.hpp"
#include "foreign/apart.hpp"
#include "job/job.hpp"
#include "ledger/archive.hpp"
#include "mesh/load.hpp"
#include "mesh/save.hpp"
#include "original/size_csv.hpp"
#include "protocol.hpp"
#include "shapes.hpp"

using namespace palinform;

namespace {

struct Target {
  std::vector<std::string> good;
  std::function<void(const std::string&)> read;
  int share = 1;  ///< a slow reader gets one round in so many
};

void must_say(const Error& e) {
  if (e.text().size() < 5) std::abort();
}
std::function<void(const std::string&)> mesh_reader(const char* name) {
  return [name](const std::string& bytes) {
    const auto r = read_mesh(bytes, name);
    if (!r)
      must_say(r.error());
    else if (!check_mesh(r->mesh, name))
      std::abort();  // what is read has passed the one entry check
  };
}

std::string bytes_of(const TriMesh& m, const std::string& ending) {
  shapes::TempDir dir;
  const std::string path = dir / ("x" + ending);
  if (!save_mesh(m, path)) std::abort();
  return *read_file(path);
}

std::map<std::string, Target> targets() {
  const TriMesh box = shapes::box({0, 0, 0}, {10, 20, 30}), ball = shapes::icosphere(5, 1);
  std::map<std::string, Target> t;
  t["stl"] = {
      {bytes_of(box, ".stl"), bytes_of(ball, ".stl"),
       "solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 9 0 0\nvertex 0 9 1\nendloop\nendfacet\n"
       "facet normal 0 0 1\nouter loop\nvertex 0 0 5\nvertex 9 0 5\nvertex 0 9 6\nendloop\nendfacet\nendsolid\n"},
      mesh_reader("x.stl")};
  t["obj"] = {{"v 0 0 0\nv 9 0 0\nv 0 9 0\nv 0 0 9\nf 1 2 3\nf 1/1/1 2/2/2 4/4/4\nf -1 -2 -3 -4\n# end\n"},
              mesh_reader("x.obj")};
  t["ply"] = {{ply_bytes(box), ply_bytes(ball),
               "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n"
               "element face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n9 0 0\n0 9 0\n3 0 1 2\n"},
              mesh_reader("x.ply")};
  t["3mf"] = {{bytes_of(box, ".3mf")}, mesh_reader("x.3mf"), 10};
  Job job;
  MeasuredSize s;
  s.id = "s1", s.name = "Bore", s.nominal_mm = 8, s.lower_mm = 7.9, s.upper_mm = 8.1;
  job.original.sizes = {s};
  job.flow.vents = {{1, 2, 3}};
  DrawnBody drawn = begun(BodyShape::outline);
  drawn.id = "b1", drawn.holes = {{{1, 2, NodeKind::arc, 0}, {3, 4, NodeKind::smooth, 0}, {5, 7}}};
  job.original.drawn.bodies = {drawn, begun(BodyShape::turned)};
  job.original.drawn.tracing.picture = "ab",
  job.original.drawn.tracing.loops = {{TracedLoop::Means::sunk, {{1, 2}, {3, 4}, {5, 7}}, 2, 0}};
  job.check.castings = {{1, "2026-11-20", "note", {{"s1", {8.01}}}}};
  const auto take_job = [](const Job& j) {
    // What was taken can be kept and comes back the same.
    if (!check_job(j)) std::abort();
    const auto again = job_from_json(job_to_json(j), "again");
    if (!again || !(*again == j)) std::abort();
  };
  t["job"] = {{job_to_json(job), "{\"schema\":3,\"sizes\":[{\"name\":\"A\",\"nominal_mm\":5}],\"copies\":2}"},
              [take_job](const std::string& text) {
                const auto r = job_from_json(text, "x.json");
                if (r)
                  take_job(*r);
                else
                  must_say(r.error());
              }};
  job.original.mesh = {hash_of(box).hex(), "box.stl", LengthUnit::mm, box.triangles.size()};
  t["archive"] = {{*archive_bytes(job, &box)},
                  [take_job](const std::string& bytes) {
                    const auto r = read_archive(bytes, "x.palinform");
                    if (r)
                      take_job(r->job);
                    else
                      must_say(r.error());
                  },
                  10};
  // A drawing that reads is drawn: whatever comes is a checked mesh or a sentence.
  t["drawing"] = {
      {R"({"unit":"mm","u_mm":0.1,"add":[{"shape":"plate","length":60,"width":40,"thickness":6,"corner":3,"edge":1},
{"shape":"disc","diameter":16,"height":10,"at":[12,4,6],"axis":[0,0.2,1]}],"cut":[{"shape":"slot","length":20,"width":6,"depth":9,"at":[-12,0,-2]}]})",
       R"({"add":[{"shape":"turned","profile_mm":[[0,0],[15,0,1],[15,6],[6,10,2],[6,18],[0,18]]},{"shape":"outline",
"points_mm":[[20,0],[40,0],[45,10,"arc"],[40,20],[20,20,3]],"holes_mm":[{"at":[30,10],"diameter":4}],"thickness_mm":5}]})"},
      [](const std::string& text) {
        const auto d = read_drawing(text, "x.json");
        if (!d) return must_say(d.error());
        const auto m = draw_solid(*d);
        if (!m)
          must_say(m.error());
        else if (!check_mesh(m->mesh, "x.json"))
          std::abort();
      },
      10};
  t["csv"] = {{sizes_to_csv({s}), "name;kind;nominal\nA;bore;8,5\n"}, [](const std::string& text) {
                const auto r = sizes_from_csv(text, "x.csv");
                if (!r) must_say(r.error());
              }};
  t["device"] = {{scale_line(250, true), calipers_line(8.01), "U    684.2 g", "E"}, [](const std::string& line) {
                   const auto r = parse_device_line(line);
                   if (r && !(std::abs(r->value) <= most_grams)) std::abort();
                 }};
  shapes::TempDir dir;
  if (std::system((std::string(STEP_WRITER) + " " + dir.str()).c_str()) != 0) std::abort();
  t["step"] = {{*read_file(dir / "plate.step"), *read_file(dir / "disc.step")},
               [](const std::string& bytes) {
                 shapes::TempDir here;
                 shapes::write_text(here / "x.step", bytes);
                 const auto r = load_mesh_apart(here / "x.step", std::nullopt);
                 if (!r)
                   must_say(r.error());
                 else if (!check_mesh(r->mesh, "x.step"))
                   std::abort();
               },
               500};
  return t;
}

std::string mutated(std::string s, const std::vector<std::string>& all, std::mt19937& rnd) {
  const auto any = [&](size_t n) { return n ? rnd() % n : 0; };
  for (size_t k = 1 + any(5); k > 0; --k) {
    const size_t at = any(s.size());
    switch (any(7)) {
      case 0:
        if (!s.empty()) s[at] = static_cast<char>(s[at] ^ (1 << any(8)));
        break;
      case 1:
        if (!s.empty()) s[at] = static_cast<char>(rnd());
        break;
      case 2:
        s.erase(at, any(16));
        break;
      case 3:
        s.insert(at, s.substr(any(s.size()), any(40)));
        break;
      case 4: {
        const char* words[] = {"1e999", "-1", "nan", "4294967296", "99999999999999999999", "\"", "{",
                               "[",     ",",  "\n",  "0x"};
        s.insert(at, words[any(std::size(words))]);
        break;
      }
      case 5: {
        const std::string& other = all[any(all.size())];
        s = s.substr(0, at) + other.substr(any(other.size()));
        break;
      }
      default:
        s.resize(at);
    }
  }
  return s;
}

}  // namespace

/// What is being read: written out when it kills the process.
std::string_view in_hand;
extern "C" void leave_it(int signal) {
  const int fd = ::open("fuzz-last.bin", O_WRONLY | O_CREAT | O_TRUNC, 0644);
  if (fd >= 0 && ::write(fd, in_hand.data(), in_hand.size()) < 0) ::_exit(3);
  std::signal(signal, SIG_DFL);
  std::raise(signal);
}

namespace {

/// STEP in forks. Tells how many ended the fork, and fails only where the reader itself broke its word.
/// Seven files of eight come from the small disc, which is read five times as fast. What takes over `patience_s` is
/// ended, as the program's own child is at its limit. A line each 20,000 files, so that a stopped run counts too.
int step_forked(const Target& target, long rounds, unsigned seed) {
  constexpr int a_fork = 50, broken = 42, patience_s = 3;
  std::mt19937 rnd(seed);
  auto* at = static_cast<volatile int*>(
      ::mmap(nullptr, sizeof(int), PROT_READ | PROT_WRITE, MAP_SHARED | MAP_ANONYMOUS, -1, 0));
  long died = 0, slow = 0;
  auto* counts = static_cast<volatile long*>(
      ::mmap(nullptr, 2 * sizeof(long), PROT_READ | PROT_WRITE, MAP_SHARED | MAP_ANONYMOUS, -1, 0));
  for (long done = 0; done < rounds;) {
    std::vector<std::string> files;
    for (long k = 0; k < std::min<long>(a_fork, rounds - done); ++k)
      files.push_back(mutated(target.good[rnd() % 8 == 0 ? 0 : 1], target.good, rnd));
    for (int from = 0; from < static_cast<int>(files.size());) {
      *at = from;
      std::fflush(stdout);
      const pid_t child = ::fork();
      if (child == 0) {
        for (const int s : {SIGABRT, SIGSEGV, SIGFPE, SIGILL, SIGBUS, SIGALRM}) std::signal(s, SIG_DFL);
        const rlimit none{0, 0};
        ::setrlimit(RLIMIT_CORE, &none);
        for (int k = from; k < static_cast<int>(files.size()); ++k) {
          *at = k;
          ::alarm(patience_s);
          const auto r = read_mesh(files[static_cast<size_t>(k)], "x.step");
          ::alarm(0);
          if (r ? !check_mesh(r->mesh, "x.step") : r.error().text().size() < 5) ::_exit(broken);
          counts[r ? 0 : 1] = counts[r ? 0 : 1] + 1;
        }
        ::_exit(0);
      }
      int status = 0;
      ::waitpid(child, &status, 0);
      if (WIFEXITED(status) && WEXITSTATUS(status) == 0) break;
      in_hand = files[static_cast<size_t>(*at)];
      if (WIFEXITED(status) && WEXITSTATUS(status) == broken) std::abort();
      ++(WIFSIGNALED(status) && WTERMSIG(status) == SIGALRM ? slow : died);
      from = *at + 1;
    }
    done += static_cast<long>(files.size());
    if (done % 20000 < a_fork || done >= rounds) {
      std::printf("step     %ld rounds in forks: %ld read, %ld refused, %ld ended the fork, %ld over %d s\n", done,
                  counts[0], counts[1], died, slow, patience_s);
      std::fflush(stdout);
    }
  }
  return 0;
}

}  // namespace

int main(int argc, char** argv) {
  for (const int s : {SIGABRT, SIGSEGV, SIGFPE, SIGILL, SIGBUS, SIGINT, SIGTERM}) std::signal(s, leave_it);
  const long rounds = argc > 1 ? std::atol(argv[1]) : 3000;
  const unsigned seed = argc > 2 ? static_cast<unsigned>(std::atoi(argv[2])) : 1;
  if (argc > 3 && std::string_view(argv[3]) == "step-forked") return step_forked(targets().at("step"), rounds, seed);
  for (auto& [name, target] : targets()) {
    if (argc > 3 && name != argv[3]) continue;
    std::mt19937 rnd(seed);
    double slowest_s = 0;
    const long n = std::max(1L, rounds / target.share);
    for (long i = 0; i < n; ++i) {
      const std::string bytes = mutated(target.good[rnd() % target.good.size()], target.good, rnd);
      in_hand = bytes;
      const auto start = std::chrono::steady_clock::now();
      target.read(bytes);
      slowest_s = std::max(slowest_s, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
    }
    std::printf("%-8s %ld rounds, slowest %.0f ms\n", name.c_str(), n, 1000 * slowest_s);
    if (slowest_s > 20) return 1;
  }
  return 0;
}
