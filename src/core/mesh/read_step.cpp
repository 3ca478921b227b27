// STEP by Open CASCADE: tessellation, and the planes and cylinders as the file states them. A module of its own: see
// step.cpp.
#include <Bnd_Box.hxx>
#include <BRep_Tool.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRepGProp.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Pln.hxx>
#include <GProp_GProps.hxx>
#include <Interface_Check.hxx>
#include <Interface_InterfaceModel.hxx>
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_ProgressIndicator.hxx>
#include <Poly_Triangulation.hxx>
#include <Standard_Failure.hxx>
#include <STEPControl_Reader.hxx>
#include <TopExp_Explorer.hxx>
#include <TopLoc_Location.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <XSControl_WorkSession.hxx>

#include <algorithm>
#include <cmath>
#include <mutex>
#include <sstream>

#include "mesh/step_module.hpp"

namespace palinform::readers {
namespace {

Vec3 from(const gp_Pnt& p) { return {p.X(), p.Y(), p.Z()}; }
/// Faces share their edges' points up to rounding: a grid of 1e-7 mm makes them equal.
Vec3 on_grid(Vec3 p) {
  for (int k = 0; k < 3; ++k) p[k] = std::round(p[k] * 1e7) * 1e-7;
  return p;
}
Vec3 from(const gp_Dir& d) { return {d.X(), d.Y(), d.Z()}; }

/// Lets a cancel through to OCCT, and its progress back.
class Bridge : public Message_ProgressIndicator {
 public:
  explicit Bridge(const Progress& p) : progress_(p) {}
  Standard_Boolean UserBreak() override { return progress_.cancelled(); }
  void Show(const Message_ProgressScope&, const Standard_Boolean) override {
    progress_.report(0.1 + 0.4 * GetPosition());
  }

 private:
  const Progress& progress_;
};

/// Two halves of one bore, as many programs write it, become one face.
void add_cylinder(std::vector<ExactFace>& list, const ExactFace& f) {
  for (ExactFace& e : list) {
    if (e.kind != f.kind || std::abs(e.diameter_mm - f.diameter_mm) > 1e-6 ||
        std::abs(dot(e.direction, f.direction)) < 1 - 1e-9)
      continue;
    const Vec3 between = f.point_mm - e.point_mm;
    const double lift = dot(between, e.direction);
    if (length(between - e.direction * lift) > 1e-6) continue;
    if (std::abs(lift) > 0.5 * (e.depth_mm + f.depth_mm) + 1e-6) continue;
    const double low = std::min(-0.5 * e.depth_mm, lift - 0.5 * f.depth_mm),
                 high = std::max(0.5 * e.depth_mm, lift + 0.5 * f.depth_mm);
    e.point_mm += e.direction * (0.5 * (low + high));
    e.depth_mm = high - low;
    return;
  }
  list.push_back(f);
}

Result<Raw> read(std::string_view bytes, const std::string& name, const Progress& progress) {
  // The reader's parser keeps global state: one file at a time.
  static std::mutex one_at_a_time;
  const std::lock_guard lock(one_at_a_time);
  Message::DefaultMessenger()->ChangePrinters().Clear();  // it would talk on stdout
  try {
    Interface_Static::SetCVal("xstep.cascade.unit", "MM");
    STEPControl_Reader reader;
    std::istringstream in{std::string(bytes)};
    if (bytes.substr(0, 200).find("ISO-10303-21") == std::string_view::npos ||
        reader.ReadStream(name.c_str(), in) != IFSelect_RetDone)
      return fault(name, "it does not read as a STEP file",
                   "Save it again from the program it came from, as AP203 or AP214.");
    // The kernel's own look at what it loaded: a reference to nothing would drop faces without a word.
    const Handle(Interface_InterfaceModel) model = reader.WS()->Model();
    if (model.IsNull()) return fault(name, "it holds no entities");
    for (int i = 1; i <= model->NbEntities(); ++i)
      if (model->Check(i, Standard_True)->NbFails() > 0 || model->Check(i, Standard_False)->NbFails() > 0)
        return fault(name,
                     "entity " + std::to_string(i) + " of " + std::to_string(model->NbEntities()) +
                         " is damaged or refers to one that is not there",
                     "Save it again from the program it came from.");
    if (model->GlobalCheck(Standard_True)->NbFails() > 0) return fault(name, "its entities do not hang together");
    progress.report(0.1);
    const Handle(Bridge) bridge = new Bridge(progress);
    Message_ProgressScope scope(bridge->Start(), "step", 2);
    reader.TransferRoots(scope.Next());
    if (progress.cancelled()) return Error::stopped();
    const TopoDS_Shape shape = reader.OneShape();
    if (shape.IsNull()) return fault(name, "it holds no shape");
    Bnd_Box box;
    BRepBndLib::Add(shape, box);
    if (box.IsVoid()) return fault(name, "it holds no faces");
    double x0, y0, z0, x1, y1, z1;
    box.Get(x0, y0, z0, x1, y1, z1);
    const double largest = std::max({x1 - x0, y1 - y0, z1 - z0});
    Raw out;
    // One part in 20,000 of the largest extent: 5 µm on 100 mm, well under any limit cast parts hold.
    out.deflection_mm = std::max(largest / 20'000, 1e-4);
    IMeshTools_Parameters how;
    how.Deflection = *out.deflection_mm;
    how.Angle = 0.2;
    how.InParallel = Standard_True;
    BRepMesh_IncrementalMesh mesher(shape, how, scope.Next());
    if (progress.cancelled()) return Error::stopped();

    for (TopExp_Explorer at(shape, TopAbs_FACE); at.More(); at.Next()) {
      const TopoDS_Face& face = TopoDS::Face(at.Current());
      TopLoc_Location place;
      const Handle(Poly_Triangulation) t = BRep_Tool::Triangulation(face, place);
      if (t.IsNull()) continue;
      const bool reversed = face.Orientation() == TopAbs_REVERSED;
      const auto first = static_cast<uint32_t>(out.mesh.points.size());
      for (int i = 1; i <= t->NbNodes(); ++i) out.mesh.points.push_back(on_grid(from(t->Node(i).Transformed(place))));
      for (int i = 1; i <= t->NbTriangles(); ++i) {
        int a, b, c;
        t->Triangle(i).Get(a, b, c);
        if (reversed) std::swap(b, c);
        out.mesh.triangles.push_back({first + static_cast<uint32_t>(a) - 1, first + static_cast<uint32_t>(b) - 1,
                                      first + static_cast<uint32_t>(c) - 1});
      }
      const BRepAdaptor_Surface surface(face);
      if (surface.GetType() == GeomAbs_Plane) {
        GProp_GProps props;
        BRepGProp::SurfaceProperties(face, props);
        const gp_Pln plane = surface.Plane();
        const Vec3 normal = cross(from(plane.XAxis().Direction()), from(plane.YAxis().Direction()));
        out.exact.push_back({FaceKind::plane, from(props.CentreOfMass()), reversed ? -normal : normal, 0, 0});
      } else if (surface.GetType() == GeomAbs_Cylinder) {
        const gp_Cylinder c = surface.Cylinder();
        const double low = surface.FirstVParameter(), high = surface.LastVParameter();
        // v runs along the axis; the natural normal points away from it where the axes are right-handed.
        const bool outward = c.Direct() != reversed;
        add_cylinder(out.exact, {outward ? FaceKind::boss : FaceKind::bore,
                                 from(c.Location()) + from(c.Axis().Direction()) * (0.5 * (low + high)),
                                 from(c.Axis().Direction()), 2 * c.Radius(), high - low});
      }
      if (out.mesh.triangles.size() > most_triangles) break;
    }
    out.unit = LengthUnit::mm;
    return out;
  } catch (const Standard_Failure& e) {
    return fault(name,
                 std::string("its geometry cannot be read (") +
                     (e.GetMessageString() ? e.GetMessageString() : "no reason given") + ")",
                 "Save it again from the program it came from.");
  }
}

}  // namespace
}  // namespace palinform::readers

extern "C" __attribute__((visibility("default"))) void palinform_read_step(
    std::string_view bytes, const std::string& name, const palinform::Progress& progress,
    palinform::Result<palinform::readers::Raw>& out) {
  static_assert(std::is_same_v<decltype(palinform_read_step), palinform::readers::ReadStep>);
  out = palinform::readers::read(bytes, name, progress);
}
