//! A text as a picture that a camera reads.

use qrcode::QrCode;
use qrcode::render::svg;

/// Smallest side of the picture, px.
const SIDE: u32 = 176;

/// Draws a text; empty where it is too long for any camera.
pub(crate) fn draw(address: &str) -> String {
    QrCode::new(address).map_or_else(
        |_| String::new(),
        |code| {
            let svg = code.render::<svg::Color<'_>>().min_dimensions(SIDE, SIDE).build();
            // What stands before the picture is for files alone.
            svg.find("<svg").map_or_else(String::new, |at| svg[at..].to_owned())
        },
    )
}
