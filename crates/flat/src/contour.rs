//! Closed contours: lists of points in mm, the last joined to the first.

use glam::DVec2;

/// Signed area of a closed contour, mm²: positive counter-clockwise.
#[must_use]
pub fn signed_area(contour: &[DVec2]) -> f64 {
    (0..contour.len()).map(|k| contour[k].perp_dot(contour[(k + 1) % contour.len()])).sum::<f64>() / 2.0
}

/// Is `p` inside the closed contour (even-odd)?
#[must_use]
pub fn contains(contour: &[DVec2], p: DVec2) -> bool {
    let mut inside = false;
    for k in 0..contour.len() {
        let (a, b) = (contour[k], contour[(k + 1) % contour.len()]);
        if (a.y > p.y) != (b.y > p.y) && p.x < a.x + (b.x - a.x) * (p.y - a.y) / (b.y - a.y) {
            inside = !inside;
        }
    }
    inside
}

/// The edges of a closed contour, each from a point to the next.
pub fn edges(contour: &[DVec2]) -> impl Iterator<Item = [DVec2; 2]> {
    (0..contour.len()).map(|k| [contour[k], contour[(k + 1) % contour.len()]])
}

/// Is `p` inside what contours that lie in one another enclose (even-odd)?
#[must_use]
pub fn encloses<'a>(contours: impl IntoIterator<Item = &'a Vec<DVec2>>, p: DVec2) -> bool {
    contours.into_iter().filter(|ring| contains(ring, p)).count() % 2 == 1
}
