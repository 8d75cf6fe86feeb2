//! Parts made for a defect of a known size, each beside a sound twin. Figures are worked out by hand or measured on the
//! vertices of the marked solid itself.

mod made;

mod around;
mod campaign;
mod depths;
mod known;
mod known_letters;
mod known_places;
mod known_seats;
mod letters;
mod maps;
mod mends;
mod sections;
mod thrown;
mod walls;
mod ways_out;
