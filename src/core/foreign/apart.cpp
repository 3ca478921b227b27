#include "foreign/apart.hpp"

#include <fcntl.h>
#include <poll.h>
#include <signal.h>
#include <spawn.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <memory>

#include "base/json_fields.hpp"
#include "base/text.hpp"

extern char** environ;

namespace palinform {
namespace {

namespace fs = std::filesystem;
using json::Given;
using json::Json;

constexpr std::string_view magic = "palinform apart 1\n";

using File = std::unique_ptr<FILE, int (*)(FILE*)>;

/// A mesh and what is said of it: magic, length of the words, words as JSON, points, triangles. The same machine reads
/// it that wrote it. Straight to the file and from it: a scan in the hand twice is 30 MB copied for each million.
bool pack(const std::string& path, const Json& words, const TriMesh& mesh) {
  const std::string text = words.dump();
  const uint64_t lengths[3] = {text.size(), mesh.points.size(), mesh.triangles.size()};
  const File file(std::fopen(path.c_str(), "wb"), std::fclose);
  const auto put = [&](const void* data, size_t bytes) {
    return bytes == 0 || std::fwrite(data, 1, bytes, file.get()) == bytes;
  };
  return file && put(magic.data(), magic.size()) && put(lengths, sizeof lengths) && put(text.data(), text.size()) &&
         put(mesh.points.data(), mesh.points.size() * sizeof(Vec3)) &&
         put(mesh.triangles.data(), mesh.triangles.size() * sizeof(Triangle)) && std::fflush(file.get()) == 0;
}

struct Unpacked {
  Given words;
  TriMesh mesh;
};
std::optional<Unpacked> unpack(const std::string& path) {
  const File file(std::fopen(path.c_str(), "rb"), std::fclose);
  std::error_code ec;
  const uintmax_t size = fs::file_size(path, ec);
  const auto take = [&](void* data, size_t bytes) {
    return bytes == 0 || std::fread(data, 1, bytes, file.get()) == bytes;
  };
  char head[magic.size()];
  uint64_t lengths[3];
  if (!file || ec || !take(head, sizeof head) || std::string_view(head, sizeof head) != magic ||
      !take(lengths, sizeof lengths))
    return std::nullopt;
  constexpr uint64_t most = 100'000'000;
  const uintmax_t left = size - sizeof head - sizeof lengths;
  if (lengths[0] > left || lengths[1] > most || lengths[2] > most ||
      left != lengths[0] + lengths[1] * sizeof(Vec3) + lengths[2] * sizeof(Triangle))
    return std::nullopt;
  std::string text(lengths[0], '\0');
  if (!take(text.data(), text.size())) return std::nullopt;
  Unpacked u;
  u.words = Given::parse(text, nullptr, false);
  if (!u.words.is_object()) return std::nullopt;
  u.mesh.points.resize(lengths[1]);
  u.mesh.triangles.resize(lengths[2]);
  if (!take(u.mesh.points.data(), lengths[1] * sizeof(Vec3)) ||
      !take(u.mesh.triangles.data(), lengths[2] * sizeof(Triangle)))
    return std::nullopt;
  return u;
}

std::string beside_this_program() {
  std::error_code ec;
  const fs::path self = fs::read_symlink("/proc/self/exe", ec);
  return ec ? std::string() : (self.parent_path() / "palin").string();
}

/// A folder of its own under the temporary one, gone at the end.
struct Scratch {
  fs::path dir;
  Scratch() {
    std::string pattern = (fs::temp_directory_path() / "palinform-XXXXXX").string();
    if (const char* made = ::mkdtemp(pattern.data())) dir = made;
  }
  ~Scratch() {
    std::error_code ec;
    if (!dir.empty()) fs::remove_all(dir, ec);
  }
};

/// Runs the helper; its standard output tells how far it is, a number a line.
Result<Unpacked> run_apart(const std::string& what, const std::string& in, const std::string& options,
                           const std::string& name, const ApartLimits& limits, const Progress& progress) {
  const Scratch scratch;
  if (scratch.dir.empty()) return Error{"there is no room for temporary files", fs::temp_directory_path(), ""};
  const std::string helper = limits.helper.empty() ? beside_this_program() : limits.helper;
  if (::access(helper.c_str(), X_OK) != 0)
    return Error{"the reader of files is missing", helper, "Install Palinform again: `palin` belongs beside it."};
  const std::string out = (scratch.dir / "out").string();
  int pipe_ends[2];
  if (::pipe2(pipe_ends, O_CLOEXEC) != 0) return Error{"no further process can be started", "", ""};
  const std::string memory = std::to_string(limits.memory_bytes), bytes = std::to_string(limits.file_bytes),
                    seconds = std::to_string(static_cast<long>(limits.seconds) + 5);
  std::vector<std::string> words{helper, "apart", what, in, out, options, memory, bytes, seconds};
  std::vector<char*> argv;
  for (std::string& w : words) argv.push_back(w.data());
  argv.push_back(nullptr);
  posix_spawn_file_actions_t actions;
  posix_spawn_file_actions_init(&actions);
  posix_spawn_file_actions_adddup2(&actions, pipe_ends[1], STDOUT_FILENO);
  posix_spawn_file_actions_addopen(&actions, STDERR_FILENO, "/dev/null", O_WRONLY, 0);
  posix_spawn_file_actions_addopen(&actions, STDIN_FILENO, "/dev/null", O_RDONLY, 0);
  pid_t child = 0;
  const int failed = ::posix_spawn(&child, helper.c_str(), &actions, nullptr, argv.data(), environ);
  posix_spawn_file_actions_destroy(&actions);
  ::close(pipe_ends[1]);
  const int told = pipe_ends[0];
  if (failed) {
    ::close(told);
    return Error{std::string("no further process can be started: ") + std::strerror(failed), "", ""};
  }
  const auto until = std::chrono::steady_clock::now() + std::chrono::duration<double>(limits.seconds);
  bool over_time = false;
  std::string line;
  for (bool open = true; open;) {
    pollfd p{told, POLLIN, 0};
    ::poll(&p, 1, 50);
    if (p.revents & (POLLIN | POLLHUP)) {
      char buffer[512];
      const ssize_t got = ::read(told, buffer, sizeof buffer);
      if (got <= 0) open = false;
      for (ssize_t i = 0; i < got; ++i) {
        if (buffer[i] != '\n') {
          line += buffer[i];
          continue;
        }
        if (const auto f = parse_number(line)) progress.report(*f);
        line.clear();
      }
    }
    over_time = std::chrono::steady_clock::now() > until;
    if (progress.cancelled() || over_time) {
      ::kill(child, SIGKILL);
      open = false;
    }
  }
  ::close(told);
  int status = 0;
  while (::waitpid(child, &status, 0) < 0 && errno == EINTR) {}
  if (progress.cancelled()) return Error::stopped();
  if (over_time)
    return Error{"it took longer than " + counted(static_cast<long long>(limits.seconds), "second", "seconds") +
                     " and was stopped",
                 name, "Save it in a simpler form, or thin it out first."};
  const bool written = WIFEXITED(status) && WEXITSTATUS(status) == 0 && ::access(out.c_str(), R_OK) == 0;
  if (!written) {
    const bool memory_out = WIFEXITED(status) && WEXITSTATUS(status) == 3;
    return Error{
        memory_out ? "it would take more memory than there is for it" : "it is damaged in a way that stops the reader",
        name,
        memory_out ? "Thin it out first, or save it in a simpler form."
                   : "Save it again from the program it came from, or as another kind of file."};
  }
  auto u = unpack(out);
  if (!u) return Error{"the reader of files gave nothing that can be read", name, "Please report it with the file."};
  if (const auto e = u->words.find("error"); e != u->words.end()) {
    Error error;
    try {
      json::read(*e, error, "");
    } catch (const json::Bad&) { error.what = "it cannot be read"; }
    return error;
  }
  return *std::move(u);
}

Json error_words(const Error& e) { return {{"error", json::write(e)}}; }

}  // namespace

Result<LoadedMesh> load_mesh_apart(const std::string& path, std::optional<LengthUnit> unit, const Progress& progress,
                                   const ApartLimits& limits) {
  const std::string name = base_name(path);
  auto u = run_apart("read", path, unit ? std::string(name_of(*unit)) : "-", name, limits, progress);
  if (!u) return u.error();
  LoadedMesh out;
  try {
    json::read(u->words, out, "");
  } catch (const json::Bad&) { return Error{"the reader of files gave nothing that can be read", name, ""}; }
  if (auto ok = check_mesh(u->mesh, name); !ok) return ok.error();
  out.mesh = std::move(u->mesh);
  return out;
}

Result<Mended> mend_apart(const TriMesh& mesh, const MendOptions& options, const Progress& progress,
                          ApartLimits limits) {
  const Scratch scratch;
  const std::string in = (scratch.dir / "in").string();
  if (!pack(in, Json::object(), mesh)) return Error{"there is no room for temporary files", scratch.dir, ""};
  auto u = run_apart("mend", in, json::write(options).dump(), "mending", limits, progress);
  if (!u) return u.error();
  Mended out;
  try {
    json::read(u->words, out.report, "");
  } catch (const json::Bad&) { return Error{"the mender gave nothing that can be read", "", ""}; }
  if (auto ok = check_mesh(u->mesh, "the mended mesh"); !ok) return ok.error();
  out.mesh = std::move(u->mesh);
  return out;
}

int work_apart(const std::string& what, const std::string& in, const std::string& out, const std::string& options) {
  const Progress progress(in_hundredths([](double f) {
    const std::string line = fixed(f, 3) + "\n";
    if (::write(STDOUT_FILENO, line.data(), line.size()) < 0) ::_exit(1);  // nobody is there to hear it any more
  }));
  if (what == "read") {
    auto loaded = load_mesh(in, options == "-" ? std::nullopt : named<LengthUnit>(options), progress);
    return (loaded ? pack(out, json::write(*loaded), loaded->mesh) : pack(out, error_words(loaded.error()), {})) ? 0
                                                                                                                 : 1;
  }
  const auto u = unpack(in);
  if (!u) return 1;
  MendOptions how;
  json::read(Given::parse(options), how, "");
  auto mended = mend(u->mesh, how, progress);
  return (mended ? pack(out, json::write(mended->report), mended->mesh) : pack(out, error_words(mended.error()), {}))
             ? 0
             : 1;
}

}  // namespace palinform
