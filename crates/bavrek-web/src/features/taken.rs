//! What is taken of a figure, as soon as it is typed: `168` in a field of metres is 1.68 m.

use std::collections::BTreeMap;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::routing::get;
use bavrek_core::quantity;
use bavrek_core::ranges::LegalRange;

use super::typed::UNITS;
use crate::extract::Me;
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/taken", get(taken))
}

#[derive(Template, WebTemplate, Default)]
#[template(path = "parts/taken.html")]
struct Taken {
    /// In the field's own unit, where it was typed otherwise.
    said: Option<String>,
    wrong: Option<String>,
    /// What was meant, where one thing is, and the field that it is put into.
    meant: Option<(String, String)>,
}

/// The field's name, unit and range, and what was typed under its name. Of a field that is not known nothing is said.
async fn taken(Me(_): Me, Query(asked): Query<BTreeMap<String, String>>) -> Taken {
    read(&asked).unwrap_or_default()
}

fn read(asked: &BTreeMap<String, String>) -> Option<Taken> {
    let number = |name: &str| asked.get(name)?.parse::<f64>().ok();
    let unit = UNITS.into_iter().find(|u| asked.get("unit").is_some_and(|asked| asked == u))?;
    let range = LegalRange { min: number("min")?, max: number("max")?, unit };
    let name = asked.get("name")?;
    let text = asked.get(name)?.trim();
    if text.is_empty() {
        return None;
    }
    Some(match quantity::read(name, text, range) {
        Ok(taken) => Taken { said: taken.said, ..Taken::default() },
        Err(error) => {
            let meant = error.meant.map(|meant| (meant, name.clone()));
            Taken { wrong: Some(error.message), meant, ..Taken::default() }
        }
    })
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case("168", Some("1.68 m"), false, None)]
    #[case("1.68", None, false, None)]
    #[case("66", None, true, Some("66 in"))]
    #[case("tall", None, true, None)]
    #[case("", None, false, None)]
    fn a_field_says_what_it_takes(
        #[case] text: &str,
        #[case] said: Option<&str>,
        #[case] wrong: bool,
        #[case] meant: Option<&str>,
    ) {
        let asked = [("name", "height"), ("unit", "m"), ("min", "1.2"), ("max", "2.3"), ("height", text)];
        let asked = asked.map(|(k, v)| (k.to_owned(), v.to_owned())).into_iter().collect();
        let taken = read(&asked).unwrap_or_default();
        assert_eq!((taken.said.as_deref(), taken.wrong.is_some()), (said, wrong));
        assert_eq!(taken.meant.map(|(words, _)| words).as_deref(), meant);
    }

    #[test]
    fn of_an_unknown_unit_nothing_is_said() {
        let asked = [("name", "f"), ("unit", "parsec"), ("min", "0"), ("max", "9"), ("f", "3")];
        let asked = asked.map(|(k, v)| (k.to_owned(), v.to_owned())).into_iter().collect();
        assert!(read(&asked).is_none());
    }
}
