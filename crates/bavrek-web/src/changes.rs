//! Notes who changed what: every form of a signed-in trainer that was taken, by its address and whom it was about.

use axum::extract::{MatchedPath, RawPathParams, Request, State};
use axum::http::Method;
use axum::middleware::Next;
use axum::response::Response;
use bavrek_store::deeds::{self, About};
use uuid::Uuid;

use crate::auth::AuthSession;
use crate::state::App;

/// Forms that change nothing that is kept: they compute, look, or try.
const LOOKS: [&str; 11] = [
    "/catalogue/{movement}/preview",
    "/clients/from-table",
    "/clients/{client}/aims/preview",
    "/clients/{client}/data/bring-in",
    "/clients/{client}/read",
    "/clients/{client}/read/again",
    "/sessions/{session}/slots/read-off",
    "/sessions/{session}/slots/try",
    "/slots/{slot}/intent/read-off",
    "/slots/{slot}/intent/try",
    "/weights/try",
];
/// Forms whose rows say themselves who wrote them and when, and those of which a deed of its own is kept.
const TELL_THEMSELVES: [&str; 7] = [
    "/sessions/{session}/train",
    "/sessions/{session}/log",
    "/sign-out",
    "/account/password",
    "/account/code",
    "/account/people",
    "/clients/{client}/data/erase",
];

/// Whether a form is noted.
pub(crate) fn is_noted(pattern: &str) -> bool {
    !pattern.starts_with("/api/")
        && !LOOKS.contains(&pattern)
        && TELL_THEMSELVES.iter().all(|own| pattern != *own && !pattern.starts_with(&format!("{own}/")))
}

/// What a form is about in the words of its address: `places, kit, remove`.
pub(crate) fn in_words(pattern: &str) -> String {
    let words: Vec<&str> = pattern.split('/').filter(|w| !w.is_empty() && !w.starts_with('{')).collect();
    // Whose it is stands beside it.
    let words = if words.len() > 1 && words[0] == "clients" { &words[1..] } else { &words[..] };
    words.join(", ").replace('-', " ")
}

/// Notes a form once it was taken. What cannot be noted is told in the log and holds up nobody.
pub(crate) async fn noted(
    State(app): State<App>,
    auth: AuthSession,
    pattern: MatchedPath,
    params: RawPathParams,
    request: Request,
    next: Next,
) -> Response {
    let form = request.method() == Method::POST && is_noted(pattern.as_str());
    let about = about(&params);
    let response = next.run(request).await;
    let taken = response.status().is_success() || response.status().is_redirection();
    if let Some(user) = auth.user.filter(|_| form && taken) {
        let what = in_words(pattern.as_str());
        if let Err(error) = deeds::changed(&app.pool, user.0.id, about, &what, app.clock.now()).await {
            tracing::warn!(%error, "a change was not noted");
        }
    }
    response
}

/// Whom or what a form's address names.
pub(crate) fn about(params: &RawPathParams) -> About {
    let named = |name: &str| params.iter().find(|(n, _)| *n == name).and_then(|(_, id)| id.parse::<Uuid>().ok());
    About { client: named("client"), session: named("session"), slot: named("slot") }
}

#[cfg(test)]
mod tests {
    use super::{in_words, is_noted};
    use rstest::rstest;

    #[rstest]
    #[case("/clients/{client}/places/{place}/kit/{item}/remove", Some("places, kit, remove"))]
    #[case("/clients", Some("clients"))]
    #[case("/slots/{slot}/fit", Some("slots, fit"))]
    #[case("/clients/{client}/data/erase", None)]
    #[case("/clients/{client}/data/bring-in", None)]
    #[case("/clients/{client}/data/bring-in/take", Some("data, bring in, take"))]
    #[case("/clients/{client}/plan/again", Some("plan, again"))]
    #[case("/account/invite", Some("account, invite"))]
    #[case("/account/password", None)]
    #[case("/sessions/{session}/board/undo", Some("sessions, board, undo"))]
    #[case("/clients/{client}/aims/preview", None)]
    #[case("/sessions/{session}/train", None)]
    #[case("/sessions/{session}/log/take-back", None)]
    #[case("/account/devices/{handle}", Some("account, devices"))]
    #[case("/api/v1/compute/{name}", None)]
    fn what_changes_something_is_noted_in_words(#[case] pattern: &str, #[case] words: Option<&str>) {
        assert_eq!(is_noted(pattern).then(|| in_words(pattern)).as_deref(), words);
    }
}
