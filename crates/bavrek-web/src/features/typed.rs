//! Forms that are posted: what was typed, what is wrong with it, and how a field looks. Whatever was typed is kept.

use std::collections::BTreeMap;

use bavrek_core::quantity;
use bavrek_core::ranges::{LegalRange, RangeError};
use bavrek_core::units::trim_number;
use chrono::NaiveDate;

use crate::extract::Fields;
use crate::features::dates::written;

/// Earliest day that anything here can have: before it, a typing error is likelier than a memory.
const EARLIEST_YEAR: i32 = 1920;

/// Units of figures in forms.
pub(super) const UNITS: [&str; 7] = ["m", "mm", "kg", "lb", "minutes", "s", "degrees"];

/// What was typed, with what is wrong.
#[derive(Debug, Clone, Default)]
pub(super) struct Typed {
    values: BTreeMap<String, String>,
    errors: BTreeMap<String, String>,
    /// What may have been meant, by the names of the fields.
    meant: BTreeMap<String, Vec<String>>,
}

impl Typed {
    /// The fields as they were sent.
    pub(super) fn of(fields: &Fields) -> Self {
        Self { values: fields.to_map(), ..Self::default() }
    }

    /// What a form shows before anything was typed.
    pub(super) fn usual(values: impl IntoIterator<Item = (&'static str, String)>) -> Self {
        let values = values.into_iter().map(|(name, value)| (name.to_owned(), value)).collect();
        Self { values, ..Self::default() }
    }

    /// The same, with names that are made up as one goes.
    pub(super) const fn from_map(values: BTreeMap<String, String>) -> Self {
        Self { values, errors: BTreeMap::new(), meant: BTreeMap::new() }
    }

    /// All that was typed.
    pub(super) fn into_map(self) -> BTreeMap<String, String> {
        self.values
    }

    /// What a field holds; empty where it is absent.
    pub(super) fn value(&self, name: &str) -> &str {
        self.values.get(name).map_or("", String::as_str)
    }

    /// What is wrong with a field.
    pub(super) fn error(&self, name: &str) -> Option<&str> {
        self.errors.get(name).map(String::as_str)
    }

    /// Puts what may have been meant beside a field.
    pub(super) fn offer(&mut self, name: &str, meant: Vec<String>) {
        self.meant.insert(name.to_owned(), meant);
    }

    /// What may have been meant in a field that is wrong.
    fn meant(&self, name: &str) -> Vec<String> {
        self.meant.get(name).cloned().unwrap_or_default()
    }

    /// What is wrong, by the names of the fields.
    pub(super) fn into_errors(self) -> Vec<(String, String)> {
        self.errors.into_iter().collect()
    }

    /// Whether all is well so far.
    pub(super) fn fine(&self) -> bool {
        self.errors.is_empty()
    }

    /// Forgets what is missing while one still types: only what was typed wrong is said.
    pub(super) fn forgive_missing(&mut self) {
        let values = &self.values;
        self.errors.retain(|name, _| values.get(name).is_some_and(|v| !v.is_empty()));
    }

    /// Puts a sentence beside a field; the first one stays.
    pub(super) fn refuse(&mut self, name: &str, why: impl Into<String>) {
        self.errors.entry(name.to_owned()).or_insert_with(|| why.into());
    }

    /// The value, with an error of the core put beside a field.
    pub(super) fn take<T>(&mut self, name: &str, result: Result<T, RangeError>) -> Option<T> {
        let refused = |error: RangeError| {
            if let Some(meant) = error.meant.filter(|_| !self.errors.contains_key(name)) {
                self.offer(name, vec![meant]);
            }
            self.refuse(name, error.message);
        };
        result.map_err(refused).ok()
    }

    /// A text of at most `most` characters.
    pub(super) fn text(&mut self, name: &str, most: usize) -> String {
        let text = self.value(name).to_owned();
        let count = text.chars().count();
        if count > most {
            self.refuse(name, format!("has {count} characters; at most {most} are kept"));
        }
        text
    }

    /// A text that must not be empty.
    pub(super) fn needed(&mut self, name: &str, most: usize) -> String {
        let text = self.text(name, most);
        if text.is_empty() {
            self.refuse(name, "is needed");
        }
        text
    }

    /// One of the field's words; none where nothing was chosen.
    pub(super) fn word<T>(&mut self, name: &str, read: impl Fn(&str) -> Option<T>) -> Option<T> {
        let text = self.value(name).to_owned();
        if text.is_empty() {
            return None;
        }
        let found = read(&text);
        if found.is_none() {
            self.refuse(name, format!("{text:?} is none of the choices"));
        }
        found
    }

    /// One of the field's words, which must be chosen.
    pub(super) fn needed_word<T>(&mut self, name: &str, read: impl Fn(&str) -> Option<T>) -> Option<T> {
        if self.value(name).is_empty() {
            self.refuse(name, "choose one");
        }
        self.word(name, read)
    }

    /// A number inside its range, with a unit or without, in whatever unit it was typed; none where nothing was typed.
    pub(super) fn number(&mut self, name: &str, range: LegalRange) -> Option<f64> {
        let text = self.value(name).to_owned();
        if text.is_empty() {
            return None;
        }
        let read = quantity::read(name, &text, range).map(|taken| taken.value);
        self.take(name, read)
    }

    /// A whole number inside its range.
    pub(super) fn whole(&mut self, name: &str, range: LegalRange) -> Option<i16> {
        let value = self.number(name, range)?;
        if value.fract() != 0.0 {
            if !self.errors.contains_key(name) {
                let whole = [value.floor(), value.ceil()].into_iter().filter(|v| range.check(name, *v).is_ok());
                self.offer(name, whole.map(|v| trim_number(v, 0)).collect());
            }
            self.refuse(name, "must be a whole number");
            return None;
        }
        Some(value as i16)
    }

    /// A day that is not in the future; none where nothing was typed.
    pub(super) fn past_day(&mut self, name: &str, today: NaiveDate) -> Option<NaiveDate> {
        let day = self.day(name)?;
        if day > today {
            self.refuse(name, format!("{} is in the future; today is {}", written(day), written(today)));
            return None;
        }
        Some(day)
    }

    /// A day; none where nothing was typed.
    pub(super) fn day(&mut self, name: &str) -> Option<NaiveDate> {
        let text = self.value(name).to_owned();
        if text.is_empty() {
            return None;
        }
        match bavrek_formats::log_table::day(&text) {
            Ok(day) if chrono::Datelike::year(&day) >= EARLIEST_YEAR && chrono::Datelike::year(&day) < 2200 => {
                Some(day)
            }
            Ok(day) => {
                self.refuse(name, format!("{} cannot be right", written(day)));
                None
            }
            Err(why) => {
                let both = bavrek_formats::log_table::both_days(&text);
                if !both.is_empty() && !self.errors.contains_key(name) {
                    self.offer(name, both.iter().map(|day| day.format("%-d %B %Y").to_string()).collect());
                }
                self.refuse(name, why);
                None
            }
        }
    }

    /// Fields whose stored value differs from what was typed: name and what is stored.
    pub(super) fn differing(&self, stored: &Self) -> BTreeMap<String, String> {
        let differs = |(name, value): &(&String, &String)| self.value(name) != value.as_str();
        stored.values.iter().filter(differs).map(|(name, value)| (name.clone(), value.clone())).collect()
    }
}

/// A field of a form as it is shown.
#[derive(Debug, Clone)]
pub(super) struct Input {
    pub(super) name: &'static str,
    pub(super) label: &'static str,
    /// `text`, `date`, `email`, `password`, `new-password`, `code`, `area`, `select` or `check`.
    pub(super) kind: &'static str,
    pub(super) value: String,
    pub(super) hint: &'static str,
    pub(super) error: Option<String>,
    /// What may have been meant.
    pub(super) meant: Vec<String>,
    /// The unit and the range of a figure: what is taken of it is shown as soon as it is typed.
    pub(super) range: Option<LegalRange>,
    /// Choices of a select, or suggestions of a text.
    pub(super) options: Vec<(String, String, bool)>,
    /// What was saved in another window.
    pub(super) meanwhile: Option<String>,
    pub(super) wide: bool,
    /// The kinds of what the form makes that it is asked of, between spaces; empty where of all.
    pub(super) kinds: String,
    pub(super) most: usize,
    /// Has the focus when the page comes.
    pub(super) focus: bool,
}

impl Input {
    /// A line of text.
    pub(super) fn text(typed: &Typed, name: &'static str, label: &'static str, hint: &'static str) -> Self {
        Self {
            name,
            label,
            kind: "text",
            value: typed.value(name).to_owned(),
            hint,
            error: typed.error(name).map(str::to_owned),
            meant: typed.meant(name),
            range: None,
            options: Vec::new(),
            meanwhile: None,
            wide: false,
            kinds: String::new(),
            most: 300,
            focus: false,
        }
    }

    /// What the browser takes the field for.
    pub(super) fn input_type(&self) -> &'static str {
        match self.kind {
            "new-password" => "password",
            "code" => "text",
            other => other,
        }
    }

    /// What the browser may fill in, where it knows.
    pub(super) fn autocomplete(&self) -> Option<&'static str> {
        match self.kind {
            "email" => Some("username"),
            "password" => Some("current-password"),
            "new-password" => Some("new-password"),
            "code" => Some("one-time-code"),
            _ => None,
        }
    }

    /// A figure in a unit.
    pub(super) const fn measured(mut self, range: LegalRange) -> Self {
        self.range = Some(range);
        self
    }

    /// A field of another kind.
    pub(super) const fn kind(mut self, kind: &'static str) -> Self {
        self.kind = kind;
        self
    }

    /// Over the whole width.
    pub(super) const fn wide(mut self) -> Self {
        self.wide = true;
        self
    }

    /// Asked of some kinds only of what the form makes.
    pub(super) fn of_kinds<'a>(mut self, kinds: impl IntoIterator<Item = &'a str>) -> Self {
        self.kinds = kinds.into_iter().collect::<Vec<_>>().join(" ");
        self
    }

    /// Several lines. More than the most may be typed, so that the refusal can say how much is too much.
    pub(super) const fn area(mut self) -> Self {
        self.kind = "area";
        self.wide = true;
        self.most = 20_000;
        self
    }

    /// One of several; an empty choice where `empty` has words.
    pub(super) fn select<'a>(
        mut self,
        empty: Option<&'a str>,
        options: impl IntoIterator<Item = (&'a str, &'a str)>,
    ) -> Self {
        self.kind = "select";
        let choices = empty.map(|words| ("", words)).into_iter().chain(options);
        self.options = choices.map(|(id, label)| (id.to_owned(), label.to_owned(), id == self.value)).collect();
        self
    }

    /// Suggestions for a line of text.
    pub(super) fn suggest(mut self, options: impl IntoIterator<Item = String>) -> Self {
        self.options = options.into_iter().map(|o| (o.clone(), o, false)).collect();
        self
    }
}

/// Gives the focus to the first field that was refused, else to the first one.
pub(super) fn focus_first(inputs: &mut [Input]) {
    let at = inputs.iter().position(|i| i.error.is_some()).unwrap_or(0);
    if let Some(input) = inputs.get_mut(at) {
        input.focus = true;
    }
}

/// Puts what was saved meanwhile beside the fields that differ.
pub(super) fn mark_meanwhile(inputs: &mut [Input], differing: &BTreeMap<String, String>) {
    for input in inputs {
        input.meanwhile = differing.get(input.name).map(|stored| {
            let label = input.options.iter().find(|(id, ..)| input.kind == "select" && id == stored);
            match label {
                Some((_, label, _)) => label.clone(),
                None if stored.is_empty() => "nothing".to_owned(),
                None => stored.clone(),
            }
        });
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use bavrek_core::ranges::COUNT;
    use rstest::rstest;

    fn typed(value: &str) -> Typed {
        Typed::usual([("f", value.to_owned())])
    }

    #[rstest]
    #[case("12,0", Some(12.0), None)]
    #[case("", None, None)]
    #[case("abc", None, Some("\"abc\" is not a number"))]
    #[case("51", None, Some("between 1 and 50 pieces, not 51"))]
    #[case("1e400", None, Some("is not understood here"))]
    fn numbers_are_read_or_refused(#[case] text: &str, #[case] expected: Option<f64>, #[case] why: Option<&str>) {
        let mut form = typed(text);
        assert_eq!(form.number("f", COUNT), expected);
        assert_eq!(form.error("f").is_some(), why.is_some());
        assert!(why.is_none_or(|why| form.error("f").unwrap().contains(why)), "{:?}", form.error("f"));
        assert_eq!(form.value("f"), text, "what was typed is kept");
    }

    #[rstest]
    #[case("2026-03-10", true)]
    #[case("2026-03-11", false)]
    #[case("0026-03-10", false)]
    #[case("10.3.2026", true)]
    #[case("11 Mar 2026", false)]
    #[case("9 March 2026", true)]
    #[case("3/4/2026", false)]
    fn a_day_of_the_future_is_refused(#[case] text: &str, #[case] fine: bool) {
        let mut form = typed(text);
        let today = "2026-03-10".parse().unwrap();
        assert_eq!(form.past_day("f", today).is_some(), fine, "{text}");
        assert_eq!(form.fine(), fine);
    }

    #[test]
    fn length_is_counted_in_characters() {
        let mut form = typed(&"💪".repeat(10));
        form.text("f", 10);
        assert!(form.fine());
        form.text("f", 9);
        assert_eq!(form.error("f"), Some("has 10 characters; at most 9 are kept"));
    }

    #[test]
    fn what_differs_is_found() {
        let (mine, stored) = (typed("a"), typed("b"));
        assert_eq!(mine.differing(&stored).get("f").map(String::as_str), Some("b"));
        assert!(mine.differing(&mine.clone()).is_empty());
    }
}
