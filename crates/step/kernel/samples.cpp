// Parts with known parameters, written by the kernel itself: one of each kind of surface, an assembly with names,
// colours and inches, a sheet; and the demo's parts that are shipped as STEP.

#include <BRepAlgoAPI_Common.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_NurbsConvert.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <BRepPrimAPI_MakeTorus.hxx>
#include <Interface_Static.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <ShapeUpgrade_UnifySameDomain.hxx>
#include <Standard_Failure.hxx>
#include <TCollection_ExtendedString.hxx>
#include <TDF_Label.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <gp_Ax2.hxx>
#include <gp_Pln.hxx>
#include <gp_Trsf.hxx>

#include <cstdio>
#include <string>
#include <vector>

namespace {

struct Body {
    TopoDS_Shape shape;
    const char* name;
    double rgb[3];
    gp_Trsf at;
};

void write(const std::string& path, const std::vector<Body>& bodies, const char* unit, const char* schema) {
    Handle(TDocStd_Document) document;
    XCAFApp_Application::GetApplication()->NewDocument("MDTV-XCAF", document);
    Handle(XCAFDoc_ShapeTool) shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
    Handle(XCAFDoc_ColorTool) colours = XCAFDoc_DocumentTool::ColorTool(document->Main());
    TDF_Label assembly;
    if (bodies.size() > 1) {
        assembly = shapes->NewShape();
        TDataStd_Name::Set(assembly, "assembly");
    }
    for (const Body& body : bodies) {
        TDF_Label label = shapes->AddShape(body.shape, Standard_False);
        TDataStd_Name::Set(label, TCollection_ExtendedString(body.name, Standard_True));
        colours->SetColor(label, Quantity_Color(body.rgb[0], body.rgb[1], body.rgb[2], Quantity_TOC_sRGB), XCAFDoc_ColorSurf);
        if (bodies.size() > 1) shapes->AddComponent(assembly, label, TopLoc_Location(body.at));
    }
    shapes->UpdateAssemblies();
    Interface_Static::SetCVal("write.step.unit", unit);
    Interface_Static::SetCVal("write.step.schema", schema);
    STEPCAFControl_Writer writer;
    writer.SetColorMode(Standard_True);
    writer.SetNameMode(Standard_True);
    if (!writer.Transfer(document) || writer.Write(path.c_str()) != IFSelect_RetDone)
        throw Standard_Failure("a sample could not be written");
}

void one(const std::string& path, const TopoDS_Shape& shape, const char* name, const char* schema = "AP214IS") {
    write(path, {{shape, name, {0.6, 0.6, 0.55}, gp_Trsf()}}, "MM", schema);
}

gp_Ax2 at(double x, double y, double z, gp_Dir along = gp_Dir(0, 0, 1)) { return gp_Ax2(gp_Pnt(x, y, z), along); }

TopoDS_Shape joined(const TopoDS_Shape& a, const TopoDS_Shape& b) {
    ShapeUpgrade_UnifySameDomain one(BRepAlgoAPI_Fuse(a, b).Shape());
    one.Build();
    return one.Shape();
}

TopoDS_Shape cut(const TopoDS_Shape& a, const TopoDS_Shape& b) { return BRepAlgoAPI_Cut(a, b).Shape(); }

// Filter dome FD-40: a hollow cap, outer radius 25, wall 2.4, on a flange of radius 30; the cap is cut level at z = 4.
TopoDS_Shape dome() {
    TopoDS_Shape outer = BRepPrimAPI_MakeSphere(gp_Pnt(0, 0, -6), 25).Shape();
    TopoDS_Shape inner = BRepPrimAPI_MakeSphere(gp_Pnt(0, 0, -6), 22.6).Shape();
    TopoDS_Shape above = BRepPrimAPI_MakeBox(gp_Pnt(-40, -40, 0), 80, 80, 40).Shape();
    TopoDS_Shape cap = BRepAlgoAPI_Common(outer, above).Shape();
    TopoDS_Shape flange = BRepPrimAPI_MakeCylinder(at(0, 0, 0), 30, 3).Shape();
    TopoDS_Shape body = joined(cap, flange);
    return cut(body, BRepAlgoAPI_Common(inner, BRepPrimAPI_MakeBox(gp_Pnt(-40, -40, -1), 80, 80, 41).Shape()).Shape());
}

// Spray nozzle SN-12: a cone of radii 12 and 6 over 20, on a collar of radius 14 and length 8, bored 4.
TopoDS_Shape nozzle() {
    TopoDS_Shape collar = BRepPrimAPI_MakeCylinder(at(0, 0, 0), 14, 8).Shape();
    TopoDS_Shape cone = BRepPrimAPI_MakeCone(at(0, 0, 8), 12, 6, 20).Shape();
    return cut(joined(collar, cone), BRepPrimAPI_MakeCylinder(at(0, 0, -1), 4, 40).Shape());
}

} // namespace

extern "C" int tinbadge_step_samples(const char* folder) {
    try {
        std::string to = std::string(folder) + "/";
        one(to + "box.step", BRepPrimAPI_MakeBox(gp_Pnt(1, 2, 3), 30, 20, 10).Shape(), "box", "AP203");
        one(to + "cylinder.step", BRepPrimAPI_MakeCylinder(at(3, -4, 5, gp_Dir(1, 2, 2)), 7.5, 21).Shape(), "cylinder");
        one(to + "cone.step", BRepPrimAPI_MakeCone(at(-2, 1, 4, gp_Dir(2, 1, 2)), 12, 6, 20).Shape(), "cone", "AP242DIS");
        one(to + "sphere.step", BRepPrimAPI_MakeSphere(gp_Pnt(5, 6, 7), 25).Shape(), "sphere");
        one(to + "torus.step", BRepPrimAPI_MakeTorus(at(1, 2, 3, gp_Dir(2, 2, 1)), 20, 5).Shape(), "torus");
        TopoDS_Shape hole = cut(BRepPrimAPI_MakeBox(gp_Pnt(0, 0, 0), 40, 30, 8).Shape(),
                                BRepPrimAPI_MakeCylinder(at(15, 12, -1), 5, 20).Shape());
        one(to + "bore.step", hole, "bore");
        one(to + "spline-cylinder.step",
            BRepBuilderAPI_NurbsConvert(BRepPrimAPI_MakeCylinder(at(3, -4, 5, gp_Dir(1, 2, 2)), 7.5, 21).Shape()).Shape(),
            "spline cylinder");
        gp_Trsf aside;
        aside.SetTranslation(gp_Vec(50.8, 0, 0));
        write(to + "pair.step",
              {{BRepPrimAPI_MakeBox(25.4, 12.7, 6.35).Shape(), "Größe Ω", {0.8, 0.1, 0.1}, gp_Trsf()},
               {BRepPrimAPI_MakeCylinder(at(0, 0, 0), 6.35, 25.4).Shape(), "pin", {0.1, 0.2, 0.8}, aside}},
              "INCH", "AP214IS");
        one(to + "sheet.step", BRepBuilderAPI_MakeFace(gp_Pln(gp_Pnt(0, 0, 2), gp_Dir(0, 0, 1)), 0, 30, 0, 20).Shape(), "sheet");
        one(to + "filter-dome.step", dome(), "Filter dome FD-40", "AP242DIS");
        one(to + "spray-nozzle.step", nozzle(), "Spray nozzle SN-12");
        return 0;
    } catch (const Standard_Failure& failure) {
        fprintf(stderr, "tinbadge-step: %s\n", failure.GetMessageString());
        return 1;
    }
}
