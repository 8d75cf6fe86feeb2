//! Why relief can't be built, in sentences.

use lettering::LetteringError;
use solid::boolean::BooleanError;

#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum ReliefError {
    #[error("the part has no face {face}; its faces run from 0 to {last}")]
    NoFace { face: u32, last: u32 },
    #[error("face {0} curves too sharply to be flattened; divide it at the part, or put the mark on another face")]
    NoChart(u32),
    #[error(
        "face {0} can't be part of this seat: it has no edge in common with the others, or leans too far away from them; take it out of the seat"
    )]
    Apart(u32),
    #[error("rings run round cones, spheres and tori; on this seat set the text straight or on an arc")]
    NoRing,
    #[error(
        "the text is {length:.1} mm long and the circle it stands on {round:.1} mm round; use a larger radius, smaller or narrower letters, or less text"
    )]
    RoundTheCircle { length: f64, round: f64 },
    #[error(
        "an arc of radius {radius:.1} mm runs on the far side of this sphere, seen from its middle: its largest circle there lies {most:.1} mm from the middle; use a radius up to that, or put the mark on the other side"
    )]
    FarSide { radius: f64, most: f64 },
    #[error("the seat closes on itself {0}, so it has no edge there; tie the mark in another way")]
    NoEdgeThere(&'static str),
    #[error("the seat has no edge that a text could stand beside; set the text straight or on an arc")]
    NoEdge,
    #[error("{gap} mm from that edge nothing is left of the seat to write on; use a smaller gap, or another edge")]
    NoRoomBeside { gap: f64 },
    #[error(
        "the text is {length:.1} mm long and the edge beside it {edge:.1} mm; use smaller or narrower letters, less text, or another edge"
    )]
    EdgeTooShort { length: f64, edge: f64 },
    #[error("text beside an edge is wrapped; set it straight or on an arc to project it")]
    DroppedBeside,
    #[error("the tie to a point or to another mark was not looked up")]
    Unsettled,
    #[error(
        "with the tops pointing in, the text reaches past the centre of its circle: it is {height:.1} mm high and the radius {radius:.1} mm; use a larger radius, smaller letters, or tops out"
    )]
    PastTheMiddle { height: f64, radius: f64 },
    #[error("projecting along the pull needs a pull that the seat faces; set it at the part, or wrap the mark")]
    NoPullToDrop,
    #[error(
        "projected from its place, some of the mark misses the seat or meets it too flatly; wrap it, or move it to where the seat looks the other way"
    )]
    DropMisses,
    #[error(
        "“{character}” would be stretched to more than twice or less than half its size there; move the mark nearer to the strip's middle or make it smaller"
    )]
    Stretched { character: String },
    #[error(transparent)]
    Lettering(#[from] LetteringError),
    #[error("the mark lies off its seat: no part of “{text}” is on the face")]
    OffSeat { text: String },
    #[error("“{character}” stands on the tip of its seat; move it away from there")]
    OnTip { character: String },
    #[error(
        "“{character}” can't be kept off the crease by shifting letters along their line; move the mark, or make its letters smaller"
    )]
    OverCrease { character: String },
    #[error("“{character}”: the text is longer than once round its seat")]
    RoundAndRound { character: String },
    #[error(
        "“{character}”: walls along the pull with {draft}° draft are impossible there: the seat stands too nearly parallel to the pull; {way}"
    )]
    AlongPull { character: String, draft: f64, way: String },
    #[error(
        "“{character}”: the seat bends too sharply under it for walls square to the seat with {draft}° draft over {height} mm; {way}"
    )]
    SeatBends { character: String, draft: f64, height: f64, way: String },
    #[error(
        "the {pad}'s walls run into one another or are impossible there; use less height or draft, or walls square to the seat"
    )]
    Pad { pad: &'static str },
    #[error("“{what}” is too large for a seat that curves so much; make it, or its margin, smaller")]
    TooLarge { what: String },
    #[error("a surface body has nothing that a pad could stand on or a letter go through")]
    NoSolid,
    #[error("walls along the pull need a pull; set it at the part")]
    NoPull,
    #[error("“{character}”: with {draft}° draft over {height} mm the walls run into one another; {way}")]
    WallsMeet { character: String, draft: f64, height: f64, way: String },
    #[error(
        "“{character}”: an edge of {edge} mm and a root radius of {root} mm don't fit into a height of {height} mm; make them smaller"
    )]
    Rounds { character: String, edge: f64, root: f64, height: f64 },
    /// `fits`: the largest edge and root that would build, mm.
    #[error("“{character}”: {what} {verb} too large {place}; {way}")]
    TooRound { character: String, what: String, verb: &'static str, place: &'static str, way: String, fits: (f64, f64) },
    #[error(
        "“{character}”: a gap of {gap} mm leaves nothing of its thinnest strokes to fill; use a smaller gap or wider strokes"
    )]
    NoFilling { character: String, gap: f64 },
    #[error("“{character}”: its walls would cross one another there; {way}")]
    Crosses { character: String, way: String },
    #[error("“{character}”: the relief could not be built ({why})")]
    Build { character: String, why: String },
    #[error(transparent)]
    Boolean(#[from] BooleanError),
}
