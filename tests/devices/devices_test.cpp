// The simulated devices as the real programs they are, and the reader on their line.
#include <catch2/catch.hpp>
#include <QCoreApplication>
#include <QProcess>
#include <QSignalSpy>
#include <QTest>

#include "port_reader.hpp"
#include "protocol.hpp"
#include "run_catch.hpp"

using namespace palinform;

int main(int argc, char** argv) {
  QCoreApplication app(argc, argv);
  return run_catch(argc, argv);
}

namespace {

struct Device {
  QProcess process;
  PortReader reader;
  std::vector<DeviceReading> seen;
  Device(const char* program, const QStringList& args) {
    QObject::connect(&reader, &PortReader::reading, [this](const DeviceReading& r) { seen.push_back(r); });
    process.start(QString::fromLatin1(program), args);
    REQUIRE(process.waitForStarted(3000));
    REQUIRE(process.waitForReadyRead(3000));
    REQUIRE(reader.open(QString::fromUtf8(process.readLine()).trimmed()));
  }
  ~Device() {
    reader.close();
    process.closeWriteChannel();
    process.waitForFinished(2000);
  }
  bool wait_for(const std::function<bool()>& what) { return QTest::qWaitFor(what, 5000); }
};

}  // namespace

TEST_CASE("the protocol goes round and noise is no reading", "[devices]") {
  const auto s = parse_device_line("S    684.2 g");
  REQUIRE(s);
  CHECK(s->value == 684.2);
  CHECK(s->stable);
  CHECK_FALSE(parse_device_line("U     -0.3 g")->stable);
  CHECK(parse_device_line("U     -0.3 g")->value == -0.3);
  CHECK(parse_device_line("C 25.02 mm")->kind == DeviceReading::Kind::calipers);
  CHECK(parse_device_line("E")->kind == DeviceReading::Kind::over_range);
  for (const double g : {0.0, 0.1, 31.0, 688.6, -2.5, 2999.9})
    CHECK(parse_device_line(scale_line(g, true))->value == Approx(g));
  CHECK(parse_device_line(calipers_line(8.008))->value == Approx(8.01));
  for (const char* bad : {"", "S", "S g", "S x g", "X 5 g", "S 5 mm", "C 5 g", "S 5", "684.2", "S  nan g"})
    CHECK_FALSE(parse_device_line(bad));
}

TEST_CASE("a flipped bit or a lost byte in a line with a checksum is no reading; a line without is read and marked",
          "[devices]") {
  int lines = 0, wrong = 0;
  for (const double g : {0.0, 31.0, 250.0, 688.6, 2999.9}) {
    const std::string line = scale_line(g, true);
    const std::string bare = line.substr(0, line.size() - 2);
    CHECK(parse_device_line(bare)->checked);
    for (size_t at = 0; at < bare.size(); ++at) {
      for (int bit = 0; bit < 8; ++bit, ++lines) {
        std::string hit = bare;
        hit[at] = static_cast<char>(hit[at] ^ (1 << bit));
        const auto r = parse_device_line(hit);
        if (r && r->checked && r->value != g) ++wrong;
      }
      std::string lost = bare;
      lost.erase(at, 1);
      const auto r = parse_device_line(lost);
      if (r && r->checked && r->value != g) ++wrong;
    }
  }
  INFO(lines);
  CHECK(wrong == 0);
  CHECK_FALSE(parse_device_line("S    684.2 g")->checked);
  CHECK_FALSE(parse_device_line("S 1e9 g"));
  CHECK_FALSE(parse_device_line("C -3 mm"));
}

TEST_CASE("the simulated scale: swings in, settles, tares, pours, and says when it is too much", "[devices]") {
  Device d(SIM_SCALE, {"--range", "1000", "--seed", "5"});
  REQUIRE(d.wait_for([&] { return d.seen.size() >= 3; }));
  d.seen.clear();
  d.process.write("load 256\n");
  REQUIRE(
      d.wait_for([&] { return !d.seen.empty() && d.seen.back().stable && std::abs(d.seen.back().value - 256) < 0.3; }));
  bool swung = false;
  for (const DeviceReading& r : d.seen) swung |= !r.stable;
  CHECK(swung);
  d.reader.tare();
  REQUIRE(d.wait_for([&] { return d.seen.back().stable && std::abs(d.seen.back().value) < 0.3; }));
  d.process.write("pour 20\n");
  REQUIRE(d.wait_for([&] { return d.seen.back().value > 15; }));
  d.process.write("pour 0\n");
  d.process.write("load 5000\n");
  REQUIRE(d.wait_for([&] { return d.seen.back().kind == DeviceReading::Kind::over_range; }));
}

TEST_CASE("the simulated calipers send one reading a press", "[devices]") {
  Device d(SIM_CALIPERS, {"--seed", "2"});
  d.process.write("jaws 25.02\n");
  QTest::qWait(150);
  CHECK(d.seen.empty());
  for (int i = 0; i < 3; ++i) d.process.write("press\n");
  REQUIRE(d.wait_for([&] { return d.seen.size() == 3; }));
  for (const DeviceReading& r : d.seen) CHECK(r.value == Approx(25.02).margin(0.03));
}

TEST_CASE("a port that is not there is told in words; a device that goes is noticed", "[devices]") {
  PortReader r;
  CHECK_FALSE(r.open("/dev/no-such-port"));
  CHECK(r.error().contains("typed by hand"));
}

TEST_CASE("gauge and thermometer: they speak, fall silent, talk nonsense, and come back", "[devices]") {
  CHECK(parse_device_line(gauge_line(285.04, false))->value == Approx(285.0));
  CHECK(parse_device_line(gauge_line(285, false))->kind == DeviceReading::Kind::pot);
  CHECK(parse_device_line(gauge_line(4, true))->kind == DeviceReading::Kind::vacuum);
  CHECK(parse_device_line(room_line(21.4))->kind == DeviceReading::Kind::room);
  for (const char* bad : {"G 285", "G x kPa", "V -3 kPa", "V 300 kPa", "R 400 C", "R 21 kPa", "G 9e9 kPa"})
    CHECK_FALSE(parse_device_line(bad));
  Device gauge(SIM_GAUGE, {});
  gauge.process.write("pot 300\n");
  REQUIRE(gauge.wait_for([&] { return !gauge.seen.empty() && gauge.seen.back().value > 150; }));
  for (size_t i = 1; i < gauge.seen.size(); ++i) CHECK(gauge.seen[i].value > gauge.seen[i - 1].value - 5);  // it rises
  gauge.process.write("garbage\n");
  QTest::qWait(700);
  const size_t heard = gauge.seen.size();
  QTest::qWait(1200);
  CHECK(gauge.seen.size() == heard);  // nothing of it is a reading
  gauge.process.write("speak\nvacuum 4\n");
  REQUIRE(gauge.wait_for([&] { return gauge.seen.back().kind == DeviceReading::Kind::vacuum; }));
  // A scale that talks nonsense in mid-weigh is read again when it talks sense.
  Device scale(SIM_SCALE, {"--seed", "3"});
  scale.process.write("load 250\n");
  REQUIRE(scale.wait_for([&] { return !scale.seen.empty() && std::abs(scale.seen.back().value - 250) < 1; }));
  scale.process.write("garbage\n");
  QTest::qWait(400);
  const size_t sense = scale.seen.size();
  QTest::qWait(600);
  CHECK(scale.seen.size() == sense);
  scale.process.write("load 260\nspeak\n");
  REQUIRE(scale.wait_for([&] { return std::abs(scale.seen.back().value - 260) < 1; }));
  Device room(SIM_ROOM, {});
  room.process.write("room 18.5\n");
  REQUIRE(room.wait_for([&] { return !room.seen.empty() && std::abs(room.seen.back().value - 18.5) < 1; }));
}
