//! Results against libraries that are not ours: volumes and section areas by trimesh and manifold3d, heights and the
//! figures of letters on the written file by numpy, scipy, shapely and trimesh, strips of freeform faces by libigl, outlines by fontTools, dates by datetime,
//! spreadsheets by openpyxl, drawings by ezdxf, widths by shapely (all from Python and PyPI, under free licences).

mod dates;
mod drawings;
mod grounds;
mod letters;
mod necks;
mod outlines;
mod python;
mod solids;
mod spreadsheets;
mod strips;
