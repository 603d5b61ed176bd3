//! Templates as open documents: JSON with a published schema.

use bavrek_core::template::Template;

use crate::RequestError;
use crate::compute::{check_version, parse};

/// Longest document, bytes.
pub const LONGEST: usize = 400_000;

/// Reads a template; the error names the field.
pub fn read(text: &str) -> Result<Template, RequestError> {
    if text.len() > LONGEST {
        return Err(RequestError::new(".", format!("has {} bytes; at most {LONGEST} are read", text.len())));
    }
    check_version(text, bavrek_core::template::VERSION.into())?;
    let template: Template = parse(text.as_bytes())?;
    template.validate().map_err(|e| RequestError::new(e.path, e.message))?;
    Ok(template)
}

/// Writes a template, as people may read it.
pub fn write(template: &Template) -> String {
    serde_json::to_string_pretty(template).unwrap_or_default()
}
