// Draws lettering bodies exactly with Open CASCADE, joins them to a part's own faces where that is asked, and writes a
// STEP file. What is to be drawn is told by ../src/draw.rs; runs in the same child as reading.

#include <APIHeaderSection_MakeHeader.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakePolygon.hxx>
#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepBuilderAPI_Sewing.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepCheck_Analyzer.hxx>
#include <BRepFill.hxx>
#include <BRepLib.hxx>
#include <BRep_Tool.hxx>
#include <ElSLib.hxx>
#include <Geom2d_BSplineCurve.hxx>
#include <Geom_ConicalSurface.hxx>
#include <Geom_CylindricalSurface.hxx>
#include <Geom_Plane.hxx>
#include <Geom_SphericalSurface.hxx>
#include <Geom_ToroidalSurface.hxx>
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <STEPControl_Controller.hxx>
#include <ShapeFix_Face.hxx>
#include <Standard_Failure.hxx>
#include <StepData_StepModel.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TCollection_ExtendedString.hxx>
#include <TCollection_HAsciiString.hxx>
#include <TColgp_Array1OfPnt2d.hxx>
#include <TDF_Label.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>
#include <TopoDS_Wire.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <XSControl_WorkSession.hxx>
#include <gp_Ax3.hxx>
#include <gp_Trsf.hxx>

#include <cmath>
#include <cstdint>
#include <cstring>
#include <fstream>
#include <iterator>
#include <stdexcept>
#include <string>
#include <sys/resource.h>
#include <unistd.h>
#include <vector>

namespace {

struct Refusal : std::runtime_error {
    using std::runtime_error::runtime_error;
};

// What is to be drawn, little-endian, as ../src/draw.rs writes it.
class Told {
public:
    explicit Told(std::vector<char> bytes) : bytes_(std::move(bytes)) {}
    uint8_t byte() { return static_cast<uint8_t>(*take(1)); }
    uint32_t word() { return number<uint32_t>(); }
    double real() { return number<double>(); }
    gp_XYZ point() {
        double x = real(), y = real(), z = real();
        return gp_XYZ(x, y, z);
    }
    std::string text() {
        uint32_t size = word();
        const char* from = take(size);
        return std::string(from, size);
    }
    bool done() const { return at_ == bytes_.size(); }

private:
    const char* take(size_t size) {
        if (bytes_.size() - at_ < size) throw Refusal("what is to be drawn breaks off");
        at_ += size;
        return bytes_.data() + at_ - size;
    }
    template <class T> T number() {
        T value;
        std::memcpy(&value, take(sizeof value), sizeof value);
        return value;
    }
    std::vector<char> bytes_;
    size_t at_ = 0;
};

struct Seat {
    Handle(Geom_Surface) surface;
    gp_Pnt2d middle;

    // the parameters of a point, on the turn about the middle
    gp_Pnt2d under(const gp_Pnt& p) const {
        double u = 0, v = 0;
        if (auto s = Handle(Geom_Plane)::DownCast(surface); !s.IsNull()) ElSLib::Parameters(s->Pln(), p, u, v);
        else if (auto s = Handle(Geom_CylindricalSurface)::DownCast(surface); !s.IsNull())
            ElSLib::Parameters(s->Cylinder(), p, u, v);
        else if (auto s = Handle(Geom_ConicalSurface)::DownCast(surface); !s.IsNull())
            ElSLib::Parameters(s->Cone(), p, u, v);
        else if (auto s = Handle(Geom_SphericalSurface)::DownCast(surface); !s.IsNull())
            ElSLib::Parameters(s->Sphere(), p, u, v);
        else if (auto s = Handle(Geom_ToroidalSurface)::DownCast(surface); !s.IsNull())
            ElSLib::Parameters(s->Torus(), p, u, v);
        const double turn = 2 * M_PI;
        if (surface->IsUPeriodic()) u += std::round((middle.X() - u) / turn) * turn;
        if (surface->IsVPeriodic()) v += std::round((middle.Y() - v) / turn) * turn;
        return gp_Pnt2d(u, v);
    }
};

Seat read_seat(Told& told) {
    uint8_t kind = told.byte();
    gp_Pnt origin(told.point());
    gp_Dir axis(told.point()), across(told.point());
    double first = told.real(), second = told.real();
    gp_Pnt middle(told.point());
    gp_Ax3 frame(origin, axis, across);
    Seat seat;
    switch (kind) {
    case 1: seat.surface = new Geom_Plane(frame); break;
    case 2: seat.surface = new Geom_CylindricalSurface(frame, first); break;
    case 3: seat.surface = new Geom_ConicalSurface(frame, second, first); break;
    case 4: seat.surface = new Geom_SphericalSurface(frame, first); break;
    case 5: seat.surface = new Geom_ToroidalSurface(frame, first, second); break;
    default: throw Refusal("a seat of no kind that can be drawn");
    }
    seat.middle = gp_Pnt2d(M_PI, 0);
    seat.middle = seat.under(middle);
    return seat;
}

struct Chain {
    uint32_t seat;
    std::vector<uint32_t> points;
    std::vector<double> at;
    TopoDS_Edge edge;
};

enum class What : uint8_t { Apart, Raised, Cut };

struct Body {
    std::string name;
    bool coloured;
    double rgb[3];
    What what;
    TopoDS_Shape solid;
};

class Drawing {
public:
    Drawing(Told& told, const std::string& name) : name_(name) {
        for (uint32_t n = told.word(); n > 0; n--) points_.push_back(gp_Pnt(told.point()));
        for (uint32_t n = told.word(); n > 0; n--) seats_.push_back(read_seat(told));
        for (uint32_t n = told.word(); n > 0; n--) {
            Chain chain;
            chain.seat = told.word();
            for (uint32_t m = told.word(); m > 0; m--) {
                chain.points.push_back(told.word());
                chain.at.push_back(told.real());
            }
            chain.edge = edge(chain);
            chains_.push_back(chain);
        }
        for (uint32_t n = told.word(); n > 0; n--) {
            switch (told.byte()) {
            case 1: add_on_seat(told); break;
            case 2: add_ruled(told); break;
            case 3: add_flat(told); break;
            default: throw Refusal("a face of no kind that can be drawn");
            }
        }
    }

    // The closed solid that the faces bound.
    TopoDS_Shape solid() const {
        // faces share their edges but for the straight ones between walls, and where a facet meets a curve
        for (double tolerance : {1e-6, 1e-4, 1e-3, 3e-3}) {
            BRepBuilderAPI_Sewing sewing(tolerance);
            for (const TopoDS_Face& face : faces_) sewing.Add(face);
            sewing.Perform();
            if (sewing.NbFreeEdges() > 0) continue;
            TopTools_IndexedMapOfShape shells;
            TopExp::MapShapes(sewing.SewedShape(), TopAbs_SHELL, shells);
            if (shells.Extent() != 1) continue;
            TopoDS_Shell shell = TopoDS::Shell(shells.FindKey(1));
            shell.Closed(Standard_True);
            TopoDS_Solid solid = BRepBuilderAPI_MakeSolid(shell);
            if (!BRepLib::OrientClosedSolid(solid)) continue;
            if (BRepCheck_Analyzer(solid).IsValid()) return solid;
        }
        throw Refusal("the faces of “" + name_ + "” don’t close to a solid");
    }

private:
    const gp_Pnt& point(uint32_t at) const {
        if (at >= points_.size()) throw Refusal("a corner that was not told");
        return points_[at];
    }

    const Chain& chain(uint32_t at) const {
        if (at >= chains_.size()) throw Refusal("a curve that was not told");
        return chains_[at];
    }

    // A curve on its seat through all points: cubic pieces that meet in one tangent, that of the parabola through a point
    // and its neighbours (Bessel's), so that no piece feels what lies farther off.
    TopoDS_Edge edge(const Chain& chain) const {
        size_t count = chain.points.size();
        if (chain.seat >= seats_.size() || count < 2) throw Refusal("a curve without a seat");
        const Seat& seat = seats_[chain.seat];
        std::vector<gp_XY> at;
        for (uint32_t p : chain.points) at.push_back(seat.under(point(p)).XY());
        std::vector<double> far, wide; // mm, and steps of the parameter
        for (size_t k = 0; k + 1 < count; k++) {
            far.push_back(point(chain.points[k]).Distance(point(chain.points[k + 1])));
            wide.push_back(chain.at[k + 1] - chain.at[k]);
            if (!(far[k] > 0) || !(wide[k] > 0)) throw Refusal("a curve of “" + name_ + "” turns back");
        }
        std::vector<gp_XY> rate; // of the place with the parameter
        for (size_t k = 0; k < count; k++) {
            auto way = [&](size_t k) { return (at[k + 1] - at[k]) / far[k]; };
            auto middle = [&](size_t k) { return (way(k - 1) * far[k] + way(k) * far[k - 1]) / (far[k - 1] + far[k]); };
            gp_XY tangent = count == 2       ? way(0)
                            : k == 0         ? way(0) * 2.0 - middle(1)
                            : k + 1 == count ? way(k - 1) * 2.0 - middle(k - 1)
                                             : middle(k);
            double before = far[k > 0 ? k - 1 : 0] / wide[k > 0 ? k - 1 : 0];
            double after = far[k + 1 < count ? k : k - 1] / wide[k + 1 < count ? k : k - 1];
            rate.push_back(tangent * (2 * before * after / (before + after)));
        }
        int spans = static_cast<int>(count) - 1;
        TColgp_Array1OfPnt2d poles(1, 2 * spans + 2);
        TColStd_Array1OfReal knots(1, spans + 1);
        TColStd_Array1OfInteger many(1, spans + 1);
        many.Init(2);
        many(1) = many(spans + 1) = 4;
        poles(1) = at.front();
        poles(2 * spans + 2) = at.back();
        for (int k = 0; k <= spans; k++) {
            size_t own = static_cast<size_t>(k);
            knots(k + 1) = chain.at[own];
            if (k < spans) poles(2 * k + 2) = at[own] + rate[own] * (wide[own] / 3);
            if (k > 0) poles(2 * k + 1) = at[own] - rate[own] * (wide[own - 1] / 3);
        }
        Handle(Geom2d_BSplineCurve) curve = new Geom2d_BSplineCurve(poles, knots, many, 3);
        BRepBuilderAPI_MakeEdge made(curve, seat.surface);
        if (!made.IsDone()) throw Refusal("an edge of “" + name_ + "” can’t be drawn");
        TopoDS_Edge edge = made.Edge();
        if (!BRepLib::BuildCurve3d(edge, 1e-6, GeomAbs_C1, 14, 100)) throw Refusal("an edge of “" + name_ + "” can’t be drawn");
        return edge;
    }

    void add_on_seat(Told& told) {
        uint32_t seat = told.word();
        if (seat >= seats_.size()) throw Refusal("a face without a seat");
        std::vector<TopoDS_Wire> wires;
        for (uint32_t n = told.word(); n > 0; n--) {
            TopTools_ListOfShape edges;
            for (uint32_t m = told.word(); m > 0; m--) edges.Append(chain(told.word()).edge);
            BRepBuilderAPI_MakeWire wire;
            wire.Add(edges);
            if (!wire.IsDone()) throw Refusal("an outline of “" + name_ + "” is not closed");
            wires.push_back(wire.Wire());
        }
        if (wires.empty()) throw Refusal("a face without an outline");
        BRepBuilderAPI_MakeFace face(seats_[seat].surface, wires[0], Standard_True);
        for (size_t k = 1; k < wires.size(); k++) face.Add(wires[k]);
        if (!face.IsDone()) throw Refusal("a face of “" + name_ + "” can’t be drawn");
        if (wires.size() == 1) {
            faces_.push_back(face.Face());
            return;
        }
        // which way holes run
        ShapeFix_Face fix(face.Face());
        fix.FixOrientation();
        faces_.push_back(fix.Face());
    }

    // Straight lines between two curves.
    void add_ruled(Told& told) {
        TopoDS_Edge one = chain(told.word()).edge, other = TopoDS::Edge(chain(told.word()).edge.Reversed());
        faces_.push_back(BRepFill::Face(one, other));
    }

    void add_flat(Told& told) {
        BRepBuilderAPI_MakePolygon polygon;
        for (uint32_t n = told.word(); n > 0; n--) polygon.Add(point(told.word()));
        polygon.Close();
        BRepBuilderAPI_MakeFace face(polygon.Wire(), Standard_True);
        if (!face.IsDone()) throw Refusal("a flat of “" + name_ + "” can’t be drawn");
        faces_.push_back(face.Face());
    }

    std::string name_;
    std::vector<gp_Pnt> points_;
    std::vector<Seat> seats_;
    std::vector<Chain> chains_;
    std::vector<TopoDS_Face> faces_;
};

Handle(TDocStd_Document) new_document() {
    Handle(TDocStd_Document) document;
    XCAFApp_Application::GetApplication()->NewDocument("MDTV-XCAF", document);
    return document;
}

Quantity_Color colour(const Body& body) {
    return Quantity_Color(body.rgb[0], body.rgb[1], body.rgb[2], Quantity_TOC_sRGB);
}

void name_label(const TDF_Label& label, const std::string& name) {
    TDataStd_Name::Set(label, TCollection_ExtendedString(name.c_str(), Standard_True));
}

// The part's solid with the colours of its faces, followed through every joining.
class Part {
public:
    explicit Part(const char* path) {
        document_ = new_document();
        STEPCAFControl_Reader reader;
        reader.SetColorMode(Standard_True);
        reader.SetNameMode(Standard_False);
        if (reader.ReadFile(path) != IFSelect_RetDone || !reader.Transfer(document_)) throw Refusal("the part’s own file can’t be read");
        Handle(XCAFDoc_ShapeTool) shapes = XCAFDoc_DocumentTool::ShapeTool(document_->Main());
        Handle(XCAFDoc_ColorTool) colours = XCAFDoc_DocumentTool::ColorTool(document_->Main());
        TDF_LabelSequence free;
        shapes->GetFreeShapes(free);
        TopTools_IndexedMapOfShape solids;
        for (int k = 1; k <= free.Length(); k++) TopExp::MapShapes(XCAFDoc_ShapeTool::GetShape(free.Value(k)), TopAbs_SOLID, solids);
        if (solids.Extent() != 1) throw Refusal("the part’s file holds " + std::to_string(solids.Extent()) + " solids; lettering is joined to one");
        solid_ = solids.FindKey(1);
        Quantity_Color found;
        for (TopExp_Explorer e(solid_, TopAbs_FACE); e.More(); e.Next()) {
            for (XCAFDoc_ColorType type : {XCAFDoc_ColorSurf, XCAFDoc_ColorGen})
                if (colours->GetColor(e.Current(), type, found)) {
                    painted_.push_back({e.Current(), found});
                    break;
                }
        }
        whole_ = colours->GetColor(solid_, XCAFDoc_ColorSurf, found) || colours->GetColor(solid_, XCAFDoc_ColorGen, found);
        if (whole_) own_ = found;
    }

    // Bodies of one sense, all at once.
    void join(const std::vector<Body>& bodies) {
        TopTools_ListOfShape part, tools;
        part.Append(solid_);
        for (const Body& body : bodies) tools.Append(body.solid);
        if (bodies.front().what == What::Raised) {
            BRepAlgoAPI_Fuse fuse;
            perform(fuse, part, tools, bodies);
        } else {
            BRepAlgoAPI_Cut cut;
            perform(cut, part, tools, bodies);
        }
    }

    void put(const Handle(TDocStd_Document) & to, const std::string& name, const gp_Trsf& larger) const {
        Handle(XCAFDoc_ShapeTool) shapes = XCAFDoc_DocumentTool::ShapeTool(to->Main());
        Handle(XCAFDoc_ColorTool) colours = XCAFDoc_DocumentTool::ColorTool(to->Main());
        BRepBuilderAPI_Transform moved(solid_, larger, Standard_True);
        TDF_Label label = shapes->AddShape(moved.Shape(), Standard_False);
        name_label(label, name);
        if (whole_) colours->SetColor(label, own_, XCAFDoc_ColorSurf);
        for (const auto& [face, colour] : painted_) {
            TDF_Label own = shapes->AddSubShape(label, moved.ModifiedShape(face));
            if (!own.IsNull()) colours->SetColor(own, colour, XCAFDoc_ColorSurf);
        }
    }

    const TopoDS_Shape& solid() const { return solid_; }

private:
    void perform(BRepAlgoAPI_BooleanOperation& joining, const TopTools_ListOfShape& part, const TopTools_ListOfShape& tools,
                 const std::vector<Body>& bodies) {
        joining.SetArguments(part);
        joining.SetTools(tools);
        joining.SetNonDestructive(Standard_True);
        joining.Build();
        if (joining.HasErrors()) throw Refusal("the kernel could not join the lettering to the part");
        auto follow = [&](const TopoDS_Shape& face, const Quantity_Color& colour, std::vector<Painted>& to) {
            const TopTools_ListOfShape& now = joining.Modified(face);
            for (const TopoDS_Shape& one : now) to.push_back({one, colour});
            if (now.IsEmpty() && !joining.IsDeleted(face)) to.push_back({face, colour});
        };
        std::vector<Painted> painted;
        for (const auto& [face, colour] : painted_) follow(face, colour, painted);
        for (const Body& body : bodies)
            if (body.coloured)
                for (TopExp_Explorer e(body.solid, TopAbs_FACE); e.More(); e.Next()) follow(e.Current(), colour(body), painted);
        TopTools_IndexedMapOfShape solids;
        TopExp::MapShapes(joining.Shape(), TopAbs_SOLID, solids);
        if (solids.Extent() != 1) throw Refusal("joined, the part is of " + std::to_string(solids.Extent()) + " solids");
        solid_ = solids.FindKey(1);
        painted_ = std::move(painted);
    }

    struct Painted {
        TopoDS_Shape face;
        Quantity_Color colour;
    };
    Handle(TDocStd_Document) document_;
    TopoDS_Shape solid_;
    std::vector<Painted> painted_;
    bool whole_ = false;
    Quantity_Color own_;
};

void write(const Handle(TDocStd_Document) & document, const std::string& schema, const std::string& name, const std::string& day,
           const char* to) {
    // before the writer is made: it takes the schema over then
    STEPControl_Controller::Init();
    if (!Interface_Static::SetCVal("write.step.schema", schema.c_str())) throw Refusal("no schema " + schema);
    Interface_Static::SetCVal("write.step.unit", "MM");
    Interface_Static::SetCVal("write.step.product.name", name.c_str());
    STEPCAFControl_Writer writer;
    writer.SetColorMode(Standard_True);
    writer.SetNameMode(Standard_True);
    if (!writer.Transfer(document, STEPControl_AsIs)) throw Refusal("the solids can’t be written as STEP");
    Handle(StepData_StepModel) model = writer.ChangeWriter().Model();
    APIHeaderSection_MakeHeader header(model);
    header.SetName(new TCollection_HAsciiString(name.c_str()));
    header.SetTimeStamp(new TCollection_HAsciiString(day.c_str()));
    header.SetOriginatingSystem(new TCollection_HAsciiString("Tin Badge"));
    header.Apply(model);
    if (writer.Write(to) != IFSelect_RetDone) throw Refusal("the STEP file can’t be written");
}

void draw(const char* path, const char* part, const char* to) {
    std::ifstream file(path, std::ios::binary);
    Told told(std::vector<char>((std::istreambuf_iterator<char>(file)), std::istreambuf_iterator<char>()));
    std::string schema = told.text(), name = told.text(), day = told.text();
    gp_Trsf larger;
    double at[12];
    for (double& v : at) v = told.real();
    larger.SetValues(at[0], at[1], at[2], at[3], at[4], at[5], at[6], at[7], at[8], at[9], at[10], at[11]);
    uint32_t count = told.word();
    // drawn one after another, so that how far it has come can be told
    std::vector<Body> bodies;
    for (uint32_t k = 0; k < count; k++) {
        Body body;
        body.name = told.text();
        body.coloured = told.byte() != 0;
        for (double& c : body.rgb) c = told.real();
        body.what = static_cast<What>(told.byte());
        body.solid = Drawing(told, body.name).solid();
        bodies.push_back(body);
    }
    if (!told.done()) throw Refusal("more was told than is to be drawn");
    Handle(TDocStd_Document) document = new_document();
    if (part[0] != 0) {
        Part whole(part);
        // in their order: letters stand on pads
        for (size_t k = 0; k < bodies.size();) {
            std::vector<Body> alike;
            What what = bodies[k].what;
            for (; k < bodies.size() && bodies[k].what == what; k++) alike.push_back(bodies[k]);
            if (what != What::Apart) whole.join(alike);
        }
        if (!BRepCheck_Analyzer(whole.solid()).IsValid()) throw Refusal("joined to the part the lettering is no sound solid for the kernel");
        whole.put(document, name, larger);
    }
    Handle(XCAFDoc_ShapeTool) shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
    Handle(XCAFDoc_ColorTool) colours = XCAFDoc_DocumentTool::ColorTool(document->Main());
    for (const Body& body : bodies) {
        if (part[0] != 0 && body.what != What::Apart) continue;
        TDF_Label label = shapes->AddShape(BRepBuilderAPI_Transform(body.solid, larger, Standard_True).Shape(), Standard_False);
        name_label(label, body.name);
        if (body.coloured) colours->SetColor(label, colour(body), XCAFDoc_ColorSurf);
    }
    write(document, schema, name, day, to);
}

void limit(int what, rlim_t to) {
    struct rlimit both = {to, to};
    if (setrlimit(what, &both) != 0) throw Refusal("the limits could not be set");
}

} // namespace

// Draws what the file at `path` tells, joined to the part in the STEP file at `part` unless that is empty, and writes the
// STEP file `to`. On the descriptor `says` it leaves a reason where it fails.
extern "C" int tinbadge_step_draw(const char* path, const char* part, const char* to, int says, uint64_t memory, uint64_t seconds,
                                  uint64_t most_bytes) {
    std::string why;
    try {
        limit(RLIMIT_AS, memory);
        limit(RLIMIT_CPU, seconds);
        limit(RLIMIT_FSIZE, most_bytes);
        limit(RLIMIT_CORE, 0);
        Message::DefaultMessenger()->ChangePrinters().Clear();
        draw(path, part, to);
        return 0;
    } catch (const Refusal& refusal) {
        why = refusal.what();
    } catch (const std::bad_alloc&) {
        why = "it needs more memory than one file may take";
    } catch (const Standard_Failure& failure) {
        why = std::string("the kernel gave up: ") + failure.GetMessageString();
    } catch (const std::exception& other) {
        why = std::string("the kernel gave up: ") + other.what();
    } catch (...) {
        why = "the kernel gave up without a reason";
    }
    (void)!::write(says, why.data(), why.size());
    return 1;
}
