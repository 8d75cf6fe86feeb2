//! Every character of every lettering face on flat and round, in all senses: what is refused is
//! refused in words and stays rare. Some minutes; runs with `./tinbadge test --long`.

use rayon::prelude::*;
use relief::{BuiltMark, ReliefError, Seat};
use solid::{Part, Surface, soundness};
use std::sync::Arc;
use trade::{Lettering, Mark, MeasuredAt, Place, Relief, SeatRef, Sense, Tie, Walls};

const CHARACTERS: &str = "ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-./+>&%";

#[test]
#[ignore = "long: some minutes"]
fn nearly_every_character_can_be_built_on_flat_and_round_in_every_sense() {
    let part = Part::from_mesh(&demo::parts::valve_body()).unwrap();
    let pull = Some(glam::DVec3::Z);
    let seat = |wanted: &dyn Fn(&Surface) -> bool| {
        let face = part.faces.iter().position(|f| wanted(&f.surface)).unwrap();
        Arc::new(Seat::on(&part, face as u32, pull).unwrap())
    };
    let flat = seat(&|s| matches!(s, Surface::Plane { normal, .. } if normal.x < -0.999));
    let round = seat(&|s| matches!(s, Surface::Cylinder { radius, .. } if (radius - 15.0).abs() < 0.01));
    let mut wishes = Vec::new();
    for face in lettering::faces() {
        for (seat, place) in [
            (&flat, Place { along: Tie::At { position: 21.0 }, up: Tie::At { position: 37.5 }, ..Place::default() }),
            (
                &round,
                Place { along: Tie::FromStart { distance: 10.0 }, up: Tie::At { position: 0.0 }, ..Place::default() },
            ),
            (
                &round,
                Place { along: Tie::FromStart { distance: 10.0 }, up: Tie::At { position: -4.5 }, ..Place::default() },
            ),
        ] {
            for walls in [Walls::Seat, Walls::Pull] {
                // a pull that lies in the flat leaves no walls along it
                if walls == Walls::Pull && Arc::ptr_eq(seat, &flat) {
                    continue;
                }
                for (sense, held) in [
                    (Sense::Raised, MeasuredAt::Top),
                    (Sense::Raised, MeasuredAt::Root),
                    (Sense::Sunken, MeasuredAt::Top),
                    (Sense::Sunken, MeasuredAt::Root),
                ] {
                    for draft in [0.0, 1.0, 3.0, 5.0, 10.0] {
                        for c in CHARACTERS.chars() {
                            let lettering = Lettering { face: face.id.into(), ..Lettering::default() };
                            let relief =
                                Relief { sense, height: 0.3, draft, measured_at: held, walls, ..Relief::default() };
                            let (id, text) = ("m".to_owned(), c.to_string());
                            let mark = Mark {
                                id,
                                text,
                                seat: SeatRef::on(seat.face),
                                place: place.clone(),
                                lettering,
                                relief,
                                ..Mark::default()
                            };
                            wishes.push((seat.clone(), mark));
                        }
                    }
                }
            }
        }
    }
    let refused: Vec<Option<String>> = wishes
        .par_iter()
        .filter_map(|(seat, mark)| match BuiltMark::new(mark, seat.clone(), pull) {
            Ok(built) => {
                assert!(built.bodies.iter().all(|b| soundness::examine(&b.mesh).is_closed()), "{mark:?}");
                Some(None)
            }
            // a face without the character
            Err(ReliefError::Lettering(_)) => None,
            Err(ReliefError::WallsMeet { .. }) => {
                Some(Some(format!("{} {} {:?}", mark.lettering.face, mark.text, mark.relief)))
            }
            Err(other) => panic!("{other}: {mark:?}"),
        })
        .collect();
    let tried = refused.len();
    let refused: Vec<&String> = refused.iter().flatten().collect();
    assert!(tried > 20_000);
    assert!(refused.len() * 100 < tried, "{} of {tried} refused: {refused:#?}", refused.len());
}
