//! Fields of forms whose state is in the address: what was typed, over what is usual, with the errors beside them.

use std::collections::BTreeMap;

use bavrek_core::quantity;
use bavrek_core::ranges::LegalRange;
use bavrek_core::units::trim_number;

/// A field with its value as shown, and what is wrong with it.
#[derive(Debug, Clone)]
pub(super) struct Field {
    pub(super) name: &'static str,
    pub(super) label: String,
    pub(super) value: String,
    pub(super) hint: String,
    pub(super) error: Option<String>,
    /// Choices; empty for a number.
    pub(super) options: Vec<(String, String)>,
    pub(super) step: &'static str,
}

/// What is typed over what is usual.
pub(super) struct Reader<'a> {
    asked: &'a BTreeMap<String, String>,
    pub(super) fields: Vec<Field>,
}

impl<'a> Reader<'a> {
    pub(super) const fn new(asked: &'a BTreeMap<String, String>) -> Self {
        Self { asked, fields: Vec::new() }
    }

    /// What was typed into a field.
    pub(super) fn asked(&self, name: &str) -> Option<&str> {
        self.asked.get(name).map(String::as_str)
    }

    /// Puts a sentence beside a field.
    pub(super) fn refuse(&mut self, name: &str, text: impl Into<String>) {
        if let Some(found) = self.fields.iter_mut().find(|f| f.name == name) {
            found.error = found.error.take().or_else(|| Some(text.into()));
        }
    }

    /// Whether anything typed cannot be used.
    pub(super) fn wrong(&self) -> bool {
        self.fields.iter().any(|f| f.error.is_some())
    }

    /// A number within its range; the usual one where nothing was typed, and where what was typed cannot be used.
    pub(super) fn number(
        &mut self,
        name: &'static str,
        label: &str,
        unit: &str,
        range: LegalRange,
        usual: Option<f64>,
    ) -> Option<f64> {
        let decimals = if unit == "°" { 0 } else { 2 };
        let shown = usual.map_or_else(String::new, |v| trim_number(v, decimals));
        let text = self.asked.get(name).map_or(shown.as_str(), |t| t.trim()).chars().take(40).collect::<String>();
        let (value, error) = if text.is_empty() { (None, None) } else { parse(&text, range) };
        let step = match unit {
            "°" => "1",
            "kg" => "0.5",
            _ => "0.05",
        };
        self.fields.push(Field {
            name,
            label: format!("{label}, {}", if unit == "°" { "degrees" } else { unit }),
            value: text,
            hint: format!("{} to {}", trim_number(range.min, 2), trim_number(range.max, 2)),
            error: error.clone(),
            options: Vec::new(),
            step,
        });
        if error.is_some() { usual } else { value.or(usual) }
    }

    /// A line of text, given back as it was typed.
    pub(super) fn text(&mut self, name: &'static str, label: &str, usual: &str) -> String {
        let value: String = self.asked.get(name).map_or(usual, |t| t.trim()).chars().take(40).collect();
        self.fields.push(Field {
            name,
            label: label.to_owned(),
            value: value.clone(),
            hint: String::new(),
            error: None,
            options: Vec::new(),
            step: "",
        });
        value
    }

    /// One of several; the usual one where what was asked for is none of them.
    pub(super) fn choice(
        &mut self,
        name: &'static str,
        label: &str,
        options: Vec<(String, String)>,
        usual: &str,
    ) -> String {
        let asked = self.asked;
        let text = asked.get(name).map_or(usual, String::as_str);
        let known = options.iter().any(|(id, _)| id == text);
        self.chosen(name, label, options, text);
        if known { text.to_owned() } else { usual.to_owned() }
    }

    /// A choice that is made already.
    pub(super) fn chosen(
        &mut self,
        name: &'static str,
        label: &str,
        options: Vec<(String, String)>,
        text: &str,
    ) -> String {
        let known = options.iter().any(|(id, _)| id == text);
        let error = (!known).then(|| "is none of the choices".to_owned());
        let value = text.to_owned();
        let (label, hint) = (label.to_owned(), String::new());
        self.fields.push(Field { name, label, value: value.clone(), hint, error, options, step: "" });
        value
    }
}

fn parse(text: &str, range: LegalRange) -> (Option<f64>, Option<String>) {
    match quantity::read("", text, range) {
        Ok(taken) => (Some(taken.value), None),
        Err(error) => (None, Some(error.message)),
    }
}
