//! Letters before a workout, to clients who want them: each once for its day, in the hours of the client's own day.

use bavrek_core::contact::{Contact, in_short};
use bavrek_store::outbox::{self as letters, Kind};
use bavrek_store::reminders::{self, Near};
use bavrek_store::{fits, id_of, wall};
use chrono::Days;
use uuid::Uuid;

use crate::error::WebError;
use crate::features::outbox::{self, Letter};
use crate::features::scene::capital;
use crate::state::App;

/// Sends the reminders whose time it is. What cannot be sent is told in the log, and tried again the next time.
pub(crate) async fn remind_all(app: &App) -> Result<(), WebError> {
    let now = app.clock.now();
    let today = now.date_naive();
    // Days of clients ahead of this clock and behind it, and the day after.
    let near = reminders::near(&app.pool, [today - Days::new(1), today + Days::new(2)]).await?;
    for workout in near {
        let zone = workout.time_zone.parse().unwrap_or(chrono_tz::UTC);
        if workout.reminded.of_day(now.with_timezone(&zone).naive_local()) != Some(workout.on) {
            continue;
        }
        if let Err(error) = wall::around(Some(workout.trainer), send(app, &workout)).await {
            tracing::warn!(%error, "a reminder was not sent");
        }
    }
    Ok(())
}

/// The identifier of the reminder of a workout on a day: moved to another day, it is reminded of again.
fn letter_id(workout: &Near) -> Uuid {
    id_of(&format!("reminder {} {}", workout.id, workout.on))
}

async fn send(app: &App, workout: &Near) -> Result<(), WebError> {
    let (trainer, id) = (workout.trainer, letter_id(workout));
    if !letters::kept(&app.pool, trainer, &[id]).await?.is_empty() {
        return Ok(());
    }
    let app = app.of(trainer).await?;
    let planned = fits::planned(&app.pool, trainer, workout.client, [workout.on; 2]).await?;
    let lines = planned.into_iter().filter(|line| line.session == workout.session.0);
    let lines: Vec<String> = lines
        .map(|line| {
            let name = app.catalogue.movement(&line.exercise).map_or(line.exercise.as_str(), |m| &m.name);
            format!("{name}: {}", line.dose.text())
        })
        .collect();
    let today = app.clock.today(&workout.time_zone);
    let (when, subject) = match (workout.on - today).num_days() {
        0 => ("today", format!("Today: {}", workout.session.1)),
        _ => ("tomorrow", format!("Tomorrow: {}", workout.session.1)),
    };
    let text = if Contact::is_number(&workout.contact) { brief(workout, when) } else { text(workout, when, &lines) };
    let letter = Letter {
        client: Some(workout.client),
        recipient: &workout.contact,
        kind: Kind::Reminder,
        subject: &subject,
        shown: text.clone(),
        whole: text,
        pictures: Vec::new(),
    };
    outbox::post(&app, trainer, id, letter).await
}

/// As a text message: what and when, the rest is on the phone already.
fn brief(workout: &Near, when: &str) -> String {
    let day = workout.on.format("%A %-d %B");
    let (name, place) = (in_short(&workout.session.1), in_short(&workout.place));
    let (when, minutes) = (capital(when), workout.minutes);
    format!(
        "{when}, {day}: {name}, about {minutes} minutes at {place}. If you are ill, or something hurts, leave it out and tell your trainer."
    )
}

fn text(workout: &Near, when: &str, lines: &[String]) -> String {
    let day = workout.on.format("%A %-d %B");
    let mut text = format!(
        "Hello {},\n\n{when}, {day}: {}, about {} minutes at {}.\n\n",
        workout.name, workout.session.1, workout.minutes, workout.place
    );
    for line in lines {
        text.push_str(line);
        text.push_str("\n\n");
    }
    text.push_str(
        "Set-ups and loads are on your phone or your sheet. If you are ill, or something hurts, leave it out and tell your trainer.\n",
    );
    text
}
