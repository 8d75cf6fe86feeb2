//! A part that takes minutes to look through.

/// So many triangles between thrown corners in a box 100 wide: nearly all cross.
pub fn tangled(count: u32) -> Vec<u8> {
    let mut out = vec![0; 80];
    out.extend(count.to_le_bytes());
    let mut at = 1_u64;
    for _ in 0..count {
        out.extend([0; 12]);
        for _ in 0..9 {
            // Knuth's MMIX generator
            at = at.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            out.extend(((at >> 40) as f32 / (1_u32 << 24) as f32 * 100.0).to_le_bytes());
        }
        out.extend([0; 2]);
    }
    out
}
