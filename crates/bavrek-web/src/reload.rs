//! Reloading the address of a form that was refused leads to the page that holds the form.

use axum::extract::Request;
use axum::http::{Method, StatusCode};
use axum::middleware::Next;
use axum::response::{IntoResponse, Redirect, Response};

/// Leads whoever asks for an address that only takes forms to the page with the form.
pub(crate) async fn to_its_page(request: Request, next: Next) -> Response {
    let machine = request.uri().path().starts_with("/api/");
    let asked = (request.method() == Method::GET && !machine).then(|| request.uri().path().to_owned());
    let response = next.run(request).await;
    match asked {
        Some(path) if response.status() == StatusCode::METHOD_NOT_ALLOWED => {
            Redirect::to(&page_of(&path)).into_response()
        }
        _ => response,
    }
}

/// The page that holds the form of an address.
pub(crate) fn page_of(path: &str) -> String {
    let parts: Vec<&str> = path.trim_matches('/').split('/').collect();
    match parts[..] {
        ["clients"] => "/clients/new".to_owned(),
        ["clients", client, "places", place, ..] => format!("/clients/{client}/places?place={place}"),
        [
            "clients",
            client,
            screen @ ("places" | "health" | "limits" | "aims" | "strength" | "notes" | "review" | "data" | "calendar"),
            ..,
        ] => {
            format!("/clients/{client}/{screen}")
        }
        ["clients", client, ..] => format!("/clients/{client}"),
        ["slots", slot, "spot", ..] => format!("/slots/{slot}/spot"),
        ["slots", slot, ..] => format!("/slots/{slot}/bench"),
        ["sessions", session, ..] => format!("/sessions/{session}"),
        ["catalogue", movement, ..] => format!("/catalogue/{movement}"),
        ["calls", client, ..] => format!("/calls/{client}"),
        ["account", ..] => "/account".to_owned(),
        ["calendar", ..] => "/calendar".to_owned(),
        ["lab", ..] => "/lab".to_owned(),
        _ => "/".to_owned(),
    }
}

#[cfg(test)]
mod tests {
    use super::page_of;
    use rstest::rstest;

    #[rstest]
    #[case("/clients", "/clients/new")]
    #[case("/clients/1/places", "/clients/1/places")]
    #[case("/clients/1/places/2/kit/3/remove", "/clients/1/places?place=2")]
    #[case("/clients/1/aims/preview", "/clients/1/aims")]
    #[case("/clients/1/archive", "/clients/1")]
    #[case("/calls/1/decide", "/calls/1")]
    #[case("/clients/1/review/other", "/clients/1/review")]
    #[case("/sessions/4/days", "/sessions/4")]
    #[case("/slots/5/fit", "/slots/5/bench")]
    #[case("/slots/5/spot/back", "/slots/5/spot")]
    #[case("/catalogue/push_up/preview", "/catalogue/push_up")]
    #[case("/account/devices/others", "/account")]
    #[case("/lab/save", "/lab")]
    #[case("/sign-out", "/")]
    fn a_form_has_a_page(#[case] form: &str, #[case] page: &str) {
        assert_eq!(page_of(form), page);
    }
}
