//! The shim over Open CASCADE, Debian's `libocct-data-exchange-dev`.

fn main() {
    println!("cargo:rerun-if-changed=kernel");
    cc::Build::new()
        .cpp(true)
        .std("c++17")
        .opt_level(2)
        .flag("-isystem/usr/include/opencascade")
        .cargo_metadata(false)
        .files(["kernel/read.cpp", "kernel/samples.cpp", "kernel/draw.cpp"])
        .compile("tinbadge_step");
    // the kernel goes into the child alone, never into the library that starts it
    println!("cargo:rustc-link-search=native={}", std::env::var("OUT_DIR").unwrap_or_default());
    let libraries = [
        "TKXDESTEP",
        "TKSTEP",
        "TKSTEPBase",
        "TKXSBase",
        "TKXCAF",
        "TKLCAF",
        "TKCAF",
        "TKCDF",
        "TKMesh",
        "TKShHealing",
        "TKFillet",
        "TKBO",
        "TKBool",
        "TKPrim",
        "TKTopAlgo",
        "TKGeomAlgo",
        "TKBRep",
        "TKGeomBase",
        "TKG3d",
        "TKG2d",
        "TKMath",
        "TKernel",
    ];
    for library in ["tinbadge_step"].into_iter().chain(libraries).chain(["stdc++"]) {
        println!("cargo:rustc-link-arg-bin=tinbadge-step=-l{library}");
    }
}
