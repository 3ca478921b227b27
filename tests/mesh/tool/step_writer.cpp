// Writes STEP files of known solids for the reader's tests: step_writer DIR
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <gp_Ax2.hxx>
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <STEPControl_Writer.hxx>

#include <string>

namespace {
bool write(const TopoDS_Shape& shape, const std::string& path, const char* unit) {
  STEPControl_Writer();  // loads the defaults, which the next line then changes
  Interface_Static::SetCVal("write.step.unit", unit);
  STEPControl_Writer writer;
  return writer.Transfer(shape, STEPControl_AsIs) == IFSelect_RetDone && writer.Write(path.c_str()) == IFSelect_RetDone;
}
}  // namespace

int main(int, char** argv) {
  Message::DefaultMessenger()->ChangePrinters().Clear();
  const std::string dir = argv[1];
  // 60 × 40 × 12 plate with a through bore Ø8 at (15, 20), a blind one Ø6 × 5 at (45, 20), and a boss Ø10 × 7 on top.
  const TopoDS_Shape plate = BRepPrimAPI_MakeBox(60, 40, 12).Shape();
  const TopoDS_Shape bore = BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(15, 20, -1), gp_Dir(0, 0, 1)), 4, 14).Shape();
  const TopoDS_Shape blind = BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(45, 20, 7), gp_Dir(0, 0, 1)), 3, 6).Shape();
  const TopoDS_Shape boss = BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(30, 32, 12), gp_Dir(0, 0, 1)), 5, 7).Shape();
  const TopoDS_Shape part = BRepAlgoAPI_Fuse(BRepAlgoAPI_Cut(BRepAlgoAPI_Cut(plate, bore), blind), boss).Shape();
  const TopoDS_Shape disc = BRepPrimAPI_MakeCylinder(5, 4).Shape();  // three faces: the smallest file with a curve
  return write(part, dir + "/plate.step", "MM") && write(part, dir + "/inch.stp", "INCH") &&
                 write(disc, dir + "/disc.step", "MM")
             ? 0
             : 1;
}
