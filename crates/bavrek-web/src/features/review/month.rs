//! The last four weeks for the client: in plain words with two pictures, looked over by the trainer and sent.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::contact::{Contact, LONGEST_TEXT, in_short};
use bavrek_core::review::{Fact, Told, story};
use bavrek_core::wording::sentence;
use bavrek_store::new_id;
use bavrek_store::outbox::Kind;
use chrono::{Days, NaiveDate};
use uuid::Uuid;

use super::{Read, Seen};
use crate::budget::aside;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dates::{day, week_of};
use crate::features::outbox::{self, Letter};
use crate::pictures::review as picture;
use crate::state::App;

/// Days of a month's summary.
const MONTH: u64 = 28;
/// Longest summary, characters.
const LONGEST: usize = 4_000;
/// What it is called where it arrives.
const SUBJECT: &str = "Your last four weeks";

pub(super) fn routes() -> Router<App> {
    Router::new().route("/clients/{client}/review/month", get(show).post(send))
}

#[derive(Template, WebTemplate)]
#[template(path = "review/month.html")]
struct Page {
    chrome: Chrome,
    client: Uuid,
    name: String,
    id: Uuid,
    text: String,
    pictures: Vec<String>,
    error: Option<String>,
    /// The number to which it goes as a text message, without pictures.
    number: Option<String>,
    /// Characters it may have.
    longest: usize,
}

/// What would be sent.
struct Month {
    read: Read,
    text: String,
    pictures: Vec<String>,
}

async fn month(app: &App, trainer: bavrek_store::TrainerId, client: Uuid) -> Result<Month, WebError> {
    let read =
        Read::load(app, trainer, client, |today| [today.checked_sub_days(Days::new(MONTH)).unwrap_or(today), today])
            .await?;
    let (text, pictures) = aside(|| written(app, &read))?;
    Ok(Month { read, text, pictures })
}

fn written(app: &App, read: &Read) -> Result<(String, Vec<String>), WebError> {
    let seen = Seen::of(app, read);
    let today = read.who.today;
    let say = |date: NaiveDate| day(date, today);
    let (sets, reps) = seen.weeks.iter().fold((0.0, 0), |(sets, reps), w| (sets + w.sets, reps + w.reps));
    // What the client is told: what was done and what grew. What the trainer has to see to is not their homework.
    let told = Told { lines: &seen.lines, held: &seen.held, left_out: &[], pain: None };
    let facts = story(&told);
    let grown = facts.iter().filter(|fact| matches!(fact, Fact::Grew { .. } | Fact::HeldLonger(_)));
    let mut lines = vec![match read.sessions.len() {
        0 => "No workout was planned in these weeks.".to_owned(),
        planned => format!("You kept {} of {planned} workouts: {sets:.0} sets and {reps} repetitions.", read.kept()),
    }];
    lines.extend(grown.map(|fact| sentence(fact, say)));
    let new: Vec<&str> = seen.lines.iter().flat_map(|l| &l.swaps).map(|s| s.to.name.as_str()).collect();
    if !new.is_empty() {
        lines.push(format!("New to you: {}.", new.join(", ")));
    }
    if !seen.pains.is_empty() {
        lines.push("Something hurt in these weeks: say so before the next workout if it still does.".into());
    }
    let list: Vec<String> = lines.iter().map(|l| format!("- {l}")).collect();
    if Contact::is_number(&read.who.client.contact) {
        return Ok((brief(&read.who.client.name, &lines), Vec::new()));
    }
    let text = format!(
        "Hello {},\n\nyour last four weeks, {} to {}:\n\n{}\n\nTwo pictures come with this: your strength, and your sets a week.\n",
        read.who.client.name,
        say(read.range[0]),
        say(read.range[1]),
        list.join("\n")
    );
    let weeks: Vec<(String, f64)> = seen.weeks.iter().map(|w| (week_of(w.monday, today), w.sets)).collect();
    let work = picture::draw_weeks("Sets by week", &weeks).render()?;
    Ok((text, seen.picture(read)?.into_iter().chain([work]).collect()))
}

/// As a text message: as many of the sentences as it has room for, the first ones first.
fn brief(name: &str, lines: &[String]) -> String {
    let mut text = format!("{}, your last four weeks:", in_short(name));
    for line in lines {
        if text.chars().count() + 1 + line.chars().count() > LONGEST_TEXT {
            break;
        }
        text.push(' ');
        text.push_str(line);
    }
    text
}

async fn show(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let month = month(&app, trainer, client).await?;
    Ok(page(month, chrome, new_id(), None, None))
}

/// The page with what would be sent, or what was typed instead and what is wrong with it.
fn page(month: Month, chrome: Chrome, id: Uuid, typed: Option<String>, error: Option<String>) -> Page {
    let client = &month.read.who.client;
    Page {
        client: client.id,
        name: client.name.clone(),
        number: Some(client.contact.clone()).filter(|contact| Contact::is_number(contact)),
        longest: longest(&client.contact),
        chrome: month.read.who.frame(chrome, format!("{}: the month", client.name)),
        id,
        text: typed.unwrap_or(month.text),
        pictures: month.pictures,
        error,
    }
}

/// Characters that a message may have.
fn longest(contact: &str) -> usize {
    if Contact::is_number(contact) { LONGEST_TEXT } else { LONGEST }
}

async fn send(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let id = fields.id("id")?;
    let month = month(&app, trainer, client).await?;
    let text = fields.text("text").to_owned();
    let most = longest(&month.read.who.client.contact);
    let error = match text.chars().count() {
        0 => Some("Write something: an empty message is not sent.".to_owned()),
        n if n > most => Some(format!("{n} characters, at most {most}: shorten it.")),
        _ => None,
    };
    if error.is_some() {
        let page = page(month, chrome, id, Some(text), error);
        return Ok((axum::http::StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let letter = Letter {
        client: Some(client),
        recipient: &month.read.who.client.contact,
        kind: Kind::Summary,
        subject: SUBJECT,
        whole: text.clone(),
        shown: text,
        pictures: month.pictures,
    };
    outbox::post(&app, trainer, id, letter).await?;
    Ok(Redirect::to("/outbox").into_response())
}

#[cfg(test)]
mod tests {
    use super::{LONGEST_TEXT, brief};

    #[test]
    fn a_text_message_holds_what_it_has_room_for() {
        let lines: Vec<String> = (1..=30).map(|n| format!("Your row grew by {n} % since the week before.")).collect();
        let text = brief("Odalys", &lines);
        assert!(text.starts_with("Odalys, your last four weeks: Your row grew by 1 %"), "{text}");
        assert!(text.ends_with('.') && text.chars().count() <= LONGEST_TEXT, "{text}");
        assert!(text.chars().count() > LONGEST_TEXT - 50, "{text}");
    }
}
