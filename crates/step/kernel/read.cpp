// Reads a STEP file with Open CASCADE and writes what was found to a descriptor.
// Runs in a child process of its own: it may run out of memory or time, or crash, and nothing else does.
//
// Stream, little-endian: u32 lengths before strings and lists. See ../src/stream.rs, which reads it.

#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRepGProp.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <GProp_GProps.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_Printer.hxx>
#include <Poly_Triangulation.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <ShapeUpgrade_ShapeDivideClosed.hxx>
#include <Standard_Failure.hxx>
#include <TColStd_SequenceOfAsciiString.hxx>
#include <TDF_Label.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopAbs.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopLoc_Location.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <gp_Cone.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Pln.hxx>
#include <gp_Sphere.hxx>
#include <gp_Torus.hxx>
#include <gp_Trsf.hxx>

#include <cmath>
#include <cstdint>
#include <cstring>
#include <stdexcept>
#include <string>
#include <sys/resource.h>
#include <unistd.h>
#include <vector>

namespace {

class Stream {
public:
    explicit Stream(int to) : to_(to) {}
    void word(uint32_t v) { raw(&v, sizeof v); }
    void byte(uint8_t v) { raw(&v, 1); }
    void real(double v) { raw(&v, sizeof v); }
    void single(float v) { raw(&v, sizeof v); }
    void text(const std::string& s) {
        word(static_cast<uint32_t>(s.size()));
        raw(s.data(), s.size());
    }
    void point(const gp_XYZ& p) {
        real(p.X());
        real(p.Y());
        real(p.Z());
    }
    void raw(const void* data, size_t size) {
        const char* bytes = static_cast<const char*>(data);
        held_.insert(held_.end(), bytes, bytes + size);
        if (held_.size() > (1 << 20)) flush();
    }
    void flush() {
        size_t done = 0;
        while (done < held_.size()) {
            ssize_t wrote = ::write(to_, held_.data() + done, held_.size() - done);
            if (wrote <= 0) _exit(3); // nobody listens any more
            done += static_cast<size_t>(wrote);
        }
        held_.clear();
    }

private:
    int to_;
    std::vector<char> held_;
};

/// Keeps what the reader complains about: it names entities and lines.
class Complaints : public Message_Printer {
    DEFINE_STANDARD_RTTI_INLINE(Complaints, Message_Printer)
public:
    mutable std::vector<std::string> said;

protected:
    void send(const TCollection_AsciiString& text, const Message_Gravity gravity) const override {
        if (gravity >= Message_Alarm && said.size() < 20) said.push_back(text.ToCString());
    }
};

struct Refusal : std::runtime_error {
    using std::runtime_error::runtime_error;
};

struct Colour {
    bool known = false;
    float rgb[3] = {0, 0, 0};
};

struct Found {
    std::string name;
    bool solid;
    Colour colour;
    TopoDS_Shape own;   // in its own place, as colours know it
    TopLoc_Location at; // where it stands
};

std::string name_of(const TDF_Label& label) {
    Handle(TDataStd_Name) name;
    if (!label.FindAttribute(TDataStd_Name::GetID(), name)) return "";
    const TCollection_ExtendedString& wide = name->Get();
    std::vector<char> bytes(static_cast<size_t>(wide.LengthOfCString()) + 1, 0);
    Standard_PCharacter out = bytes.data();
    wide.ToUTF8CString(out);
    return std::string(bytes.data());
}

Colour colour_of(const Handle(XCAFDoc_ColorTool) & tool, const TopoDS_Shape& shape) {
    Colour colour;
    Quantity_Color found;
    for (XCAFDoc_ColorType type : {XCAFDoc_ColorSurf, XCAFDoc_ColorGen}) {
        if (!tool->GetColor(shape, type, found)) continue;
        colour.known = true;
        Standard_Real r, g, b;
        found.Values(r, g, b, Quantity_TOC_sRGB);
        colour.rgb[0] = static_cast<float>(r);
        colour.rgb[1] = static_cast<float>(g);
        colour.rgb[2] = static_cast<float>(b);
        break;
    }
    return colour;
}

class Walk {
public:
    Walk(const Handle(TDocStd_Document) & document)
        : shapes_(XCAFDoc_DocumentTool::ShapeTool(document->Main())),
          colours_(XCAFDoc_DocumentTool::ColorTool(document->Main())) {}

    std::vector<Found> bodies() {
        TDF_LabelSequence free;
        shapes_->GetFreeShapes(free);
        for (int k = 1; k <= free.Length(); k++) visit(free.Value(k), TopLoc_Location(), "", 0);
        return bodies_;
    }

    const Handle(XCAFDoc_ColorTool) & colours() const { return colours_; }

private:
    void visit(const TDF_Label& label, const TopLoc_Location& at, const std::string& called, int depth) {
        if (depth > 64) throw Refusal("its assembly contains itself");
        std::string name = name_of(label);
        if (name.empty()) name = called;
        if (XCAFDoc_ShapeTool::IsReference(label)) {
            TDF_Label to;
            if (!XCAFDoc_ShapeTool::GetReferredShape(label, to)) return;
            std::string other = name_of(to);
            visit(to, at * XCAFDoc_ShapeTool::GetLocation(label), other.empty() ? name : other, depth + 1);
            return;
        }
        if (XCAFDoc_ShapeTool::IsAssembly(label)) {
            TDF_LabelSequence parts;
            XCAFDoc_ShapeTool::GetComponents(label, parts);
            for (int k = 1; k <= parts.Length(); k++) visit(parts.Value(k), at, name, depth + 1);
            return;
        }
        TopoDS_Shape shape = XCAFDoc_ShapeTool::GetShape(label);
        if (shape.IsNull()) return;
        Colour own = colour_of(colours_, shape);
        auto add = [&](const TopoDS_Shape& body, bool solid) {
            if (bodies_.size() >= 10000) throw Refusal("it holds more than 10000 bodies");
            Colour colour = colour_of(colours_, body);
            bodies_.push_back({name, solid, colour.known ? colour : own, body, at});
        };
        for (TopExp_Explorer e(shape, TopAbs_SOLID); e.More(); e.Next()) add(e.Current(), true);
        for (TopExp_Explorer e(shape, TopAbs_SHELL, TopAbs_SOLID); e.More(); e.Next()) add(e.Current(), false);
        for (TopExp_Explorer e(shape, TopAbs_FACE, TopAbs_SHELL); e.More(); e.Next()) add(e.Current(), false);
    }

    Handle(XCAFDoc_ShapeTool) shapes_;
    Handle(XCAFDoc_ColorTool) colours_;
    std::vector<Found> bodies_;
};

void write_colour(Stream& out, const Colour& colour) {
    out.byte(colour.known);
    for (float c : colour.rgb) out.single(c);
}

// Kind and eight numbers: a point, a direction, two lengths or angles.
void write_surface(Stream& out, const TopoDS_Face& face) {
    BRepAdaptor_Surface surface(face, Standard_False);
    gp_Ax1 axis;
    double first = 0, second = 0;
    uint8_t kind = 0;
    switch (surface.GetType()) {
    case GeomAbs_Plane: kind = 1, axis = surface.Plane().Axis(); break;
    case GeomAbs_Cylinder: kind = 2, axis = surface.Cylinder().Axis(), first = surface.Cylinder().Radius(); break;
    case GeomAbs_Cone:
        kind = 3, axis = surface.Cone().Axis(), first = surface.Cone().RefRadius(), second = surface.Cone().SemiAngle();
        break;
    case GeomAbs_Sphere: kind = 4, axis = surface.Sphere().Position().Axis(), first = surface.Sphere().Radius(); break;
    case GeomAbs_Torus:
        kind = 5, axis = surface.Torus().Axis(), first = surface.Torus().MajorRadius(),
        second = surface.Torus().MinorRadius();
        break;
    default: break;
    }
    out.byte(kind);
    out.point(axis.Location().XYZ());
    out.point(axis.Direction().XYZ());
    out.real(first);
    out.real(second);
}

// Vertices, unit normals outward (zero where there is none), triangles outward; false where there is no mesh.
bool write_mesh(Stream& out, const TopoDS_Face& face, uint64_t& triangles, uint64_t most) {
    TopLoc_Location at;
    Handle(Poly_Triangulation) mesh = BRep_Tool::Triangulation(face, at);
    if (mesh.IsNull() || mesh->NbTriangles() == 0) {
        out.word(0);
        out.word(0);
        return false;
    }
    triangles += static_cast<uint64_t>(mesh->NbTriangles());
    if (triangles > most) throw Refusal("it gives more than " + std::to_string(most) + " triangles: take a larger chord error");
    gp_Trsf place = at.Transformation();
    bool mirrored = place.IsNegative();
    bool reversed = face.Orientation() == TopAbs_REVERSED;
    BRepAdaptor_Surface surface(face, Standard_False);
    out.word(static_cast<uint32_t>(mesh->NbNodes()));
    out.word(static_cast<uint32_t>(mesh->NbTriangles()));
    for (int k = 1; k <= mesh->NbNodes(); k++) out.point(mesh->Node(k).Transformed(place).XYZ());
    for (int k = 1; k <= mesh->NbNodes(); k++) {
        gp_XYZ normal(0, 0, 0);
        if (mesh->HasUVNodes()) {
            gp_Pnt p;
            gp_Vec u, v;
            gp_Pnt2d uv = mesh->UVNode(k);
            surface.D1(uv.X(), uv.Y(), p, u, v);
            gp_Vec cross = u.Crossed(v);
            double size = cross.Magnitude();
            // at poles and apexes the surface has no normal of its own
            if (size > 1e-9 * u.Magnitude() * v.Magnitude() && size > 1e-12)
                normal = (cross / size).XYZ() * (reversed != mirrored ? -1.0 : 1.0);
        }
        out.single(static_cast<float>(normal.X()));
        out.single(static_cast<float>(normal.Y()));
        out.single(static_cast<float>(normal.Z()));
    }
    for (int k = 1; k <= mesh->NbTriangles(); k++) {
        int a, b, c;
        mesh->Triangle(k).Get(a, b, c);
        if (reversed != mirrored) std::swap(b, c);
        for (int v : {a, b, c}) out.word(static_cast<uint32_t>(v - 1));
    }
    return true;
}

void limit(int what, rlim_t to) {
    struct rlimit both = {to, to};
    if (setrlimit(what, &both) != 0) throw Refusal("the reader's limits could not be set");
}

bool unmeshed(const TopoDS_Shape& shape) {
    for (TopExp_Explorer e(shape, TopAbs_FACE); e.More(); e.Next()) {
        TopLoc_Location at;
        Handle(Poly_Triangulation) mesh = BRep_Tool::Triangulation(TopoDS::Face(e.Current()), at);
        if (mesh.IsNull() || mesh->NbTriangles() == 0) return true;
    }
    return false;
}

void read(Stream& out, const char* path, double chord, uint64_t most, const Handle(Complaints) & complaints) {
    Handle(TDocStd_Document) document;
    XCAFApp_Application::GetApplication()->NewDocument("MDTV-XCAF", document);
    STEPCAFControl_Reader reader;
    reader.SetColorMode(Standard_True);
    reader.SetNameMode(Standard_True);
    reader.SetLayerMode(Standard_False);
    reader.SetPropsMode(Standard_False);
    IFSelect_ReturnStatus status = reader.ReadFile(path);
    // a file may name further files: from here on none can be opened
    limit(RLIMIT_NOFILE, 0);
    if (status != IFSelect_RetDone) {
        std::string why = "it is no STEP file that can be followed";
        for (const std::string& said : complaints->said) why += "; " + said;
        throw Refusal(why);
    }
    TColStd_SequenceOfAsciiString lengths, angles, solid_angles;
    reader.ChangeReader().FileUnits(lengths, angles, solid_angles);
    if (!reader.Transfer(document)) throw Refusal("nothing in it is a shape");
    Walk walk(document);
    std::vector<Found> bodies = walk.bodies();
    if (bodies.empty()) throw Refusal("it holds no solid and no surface");

    out.raw("TBSTEP01", 8);
    out.text(lengths.IsEmpty() ? "" : lengths.First().ToCString());
    out.word(static_cast<uint32_t>(bodies.size()));
    uint64_t triangles = 0;
    uint32_t number = 0;
    for (Found& body : bodies) {
        Bnd_Box box;
        BRepBndLib::Add(body.own, box, Standard_False);
        double across = box.IsVoid() ? 0 : std::sqrt(box.SquareExtent());
        if (!(across < 1e6)) throw Refusal("“" + body.name + "” is " + std::to_string(across) + " mm across");
        // colours are looked up on the shape as it was read; dividing closed faces may replace it
        TopoDS_Shape shape = body.own;
        BRepMesh_IncrementalMesh(shape, chord, Standard_False, 0.35, Standard_False);
        if (unmeshed(shape)) {
            ShapeUpgrade_ShapeDivideClosed divide(shape);
            divide.SetNbSplitPoints(1);
            if (divide.Perform()) {
                shape = divide.Result();
                BRepMesh_IncrementalMesh(shape, chord, Standard_False, 0.35, Standard_False);
            }
        }
        TopoDS_Shape placed = shape.Moved(body.at);
        GProp_GProps volume, area;
        // the plain integration is off by a percent on splines with inner knots: ask for the error
        BRepGProp::SurfaceProperties(placed, area, 1e-5);
        if (body.solid) BRepGProp::VolumeProperties(placed, volume, 1e-5);
        TopTools_IndexedMapOfShape own, moved;
        TopExp::MapShapes(shape, TopAbs_FACE, own);
        TopExp::MapShapes(placed, TopAbs_FACE, moved);
        out.text(body.name);
        out.byte(body.solid);
        write_colour(out, body.colour);
        out.real(volume.Mass());
        out.real(area.Mass());
        out.word(static_cast<uint32_t>(moved.Extent()));
        for (int k = 1; k <= moved.Extent(); k++) {
            TopoDS_Face face = TopoDS::Face(moved.FindKey(k));
            out.word(number++);
            write_colour(out, k <= own.Extent() ? colour_of(walk.colours(), own.FindKey(k)) : Colour());
            write_surface(out, face);
            write_mesh(out, face, triangles, most);
        }
    }
}

} // namespace

// Reads `path` under limits and writes the stream to `to`; it ends in "TBSTEPOK", or in a reason and "TBREASON".
extern "C" int tinbadge_step_read(const char* path, int to, double chord, uint64_t most_triangles, uint64_t memory,
                                  uint64_t seconds) {
    Stream out(to);
    std::string why;
    try {
        limit(RLIMIT_AS, memory);
        limit(RLIMIT_CPU, seconds);
        limit(RLIMIT_FSIZE, 0);
        limit(RLIMIT_CORE, 0);
        Handle(Complaints) complaints = new Complaints();
        Message::DefaultMessenger()->ChangePrinters().Clear();
        Message::DefaultMessenger()->AddPrinter(complaints);
        read(out, path, chord, most_triangles, complaints);
        out.raw("TBSTEPOK", 8);
        out.flush();
        return 0;
    } catch (const Refusal& refusal) {
        why = refusal.what();
    } catch (const std::bad_alloc&) {
        why = "it needs more memory than one part may take";
    } catch (const Standard_Failure& failure) {
        why = std::string("the kernel gave up: ") + failure.GetMessageString();
    } catch (const std::exception& other) {
        why = std::string("the kernel gave up: ") + other.what();
    } catch (...) {
        why = "the kernel gave up without a reason";
    }
    // what was written so far is worth nothing: the reader looks for this at the end
    out.raw(why.data(), why.size());
    out.word(static_cast<uint32_t>(why.size()));
    out.raw("TBREASON", 8);
    out.flush();
    return 1;
}
