//! The review of a client: what happened over some weeks, told in a sentence, drawn, and with a table behind every picture.

mod month;
mod tables;

use std::collections::BTreeMap;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::routing::get;
use bavrek_core::review::{self, Done, Line, Told, story};
use bavrek_core::wording::{sentence, told as in_words};
use bavrek_store::log::Source;
use bavrek_store::logs::ClientLog;
use bavrek_store::{TrainerId, aims, clients, places, workouts};
use chrono::{Days, NaiveDate};
use serde::Deserialize;
use uuid::Uuid;

pub(super) use self::tables::change;
use self::tables::{LineTable, RegionBars, SideLine, Worked};
use crate::budget::aside;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Ids, Me, Mine};
use crate::features::clients::steps::{Step, StepView, steps};
use crate::features::dates::{day, week_of};
use crate::features::who::Who;
use crate::pictures::review as picture;
use crate::state::App;

/// Days that are shown where nothing else is asked.
const USUAL_DAYS: u64 = 84;
/// Longest range, days: three years.
const LONGEST: i64 = 3 * 366;
/// Swaps that are told, the latest first.
const SWAPS_SHOWN: usize = 8;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/clients/{client}/review", get(show)).merge(month::routes())
}

#[derive(Deserialize, Default)]
struct Asked {
    #[serde(default)]
    from: String,
    #[serde(default)]
    until: String,
}

#[derive(Template, WebTemplate)]
#[template(path = "review/page.html")]
struct Page {
    chrome: Chrome,
    client: Uuid,
    name: String,
    steps: Vec<StepView>,
    from: NaiveDate,
    until: NaiveDate,
    range: String,
    /// Ranges to choose from: words and the first day.
    ranges: Vec<(&'static str, NaiveDate)>,
    error: Option<String>,
    story: Vec<String>,
    picture: Option<String>,
    lines: Vec<LineTable>,
    held: Vec<tables::HeldTable>,
    bars: Vec<RegionBars>,
    /// Mondays of the weeks of the bars.
    weeks: Vec<String>,
    swaps: Vec<tables::SwapLine>,
    /// Gaps, and movements without one.
    sides: (Vec<SideLine>, usize),
    worked: Vec<Worked>,
    masses: Vec<(String, String)>,
    /// Sets that say nothing of strength, and why.
    left_out: Vec<String>,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(asked): Query<Asked>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let app = app.reading().await;
    let mut error = None;
    let read = Read::load(&app, trainer, client, |today| {
        let (range, words) = range(&asked, today);
        error = words;
        range
    })
    .await?;
    let tabs = steps(&app, trainer, client, Step::Review).await?;
    let chrome = read.who.frame(chrome, format!("{}: review", read.who.client.name));
    aside(|| tell(&app, &read, (chrome, tabs, error)))
}

/// What a review is made of.
struct Read {
    who: Who,
    log: std::sync::Arc<ClientLog>,
    places: BTreeMap<Uuid, String>,
    aims: bavrek_core::aims::Aims,
    /// Days that were planned, each with whether it was kept.
    sessions: Vec<(NaiveDate, bool)>,
    masses: Vec<clients::DatedMass>,
    range: [NaiveDate; 2],
}

impl Read {
    /// Reads a client for a range of days, which is asked for once their own day is known.
    async fn load(
        app: &App,
        trainer: TrainerId,
        client: Uuid,
        range: impl FnOnce(NaiveDate) -> [NaiveDate; 2],
    ) -> Result<Self, WebError> {
        let who = Who::load(app, trainer, client).await?;
        let range = range(who.today);
        let log = app.logs.of_client(&app.pool, trainer, &who.client, who.today).await?;
        let (aims, places, workouts, masses) = tokio::try_join!(
            aims::of_client(&app.pool, trainer, client),
            places::of_client(&app.pool, trainer, client),
            workouts::between(&app.pool, trainer, client, range),
            clients::masses(&app.pool, trainer, client),
        )?;
        Ok(Self {
            places: places.into_iter().map(|p| (p.id, p.name)).collect(),
            aims: aims.into_iter().next().map(|a| a.aims).unwrap_or_default(),
            sessions: workouts.into_iter().filter(|(on, kept)| *kept || *on < who.today).collect(),
            masses: masses.into_iter().filter(|m| (range[0]..=range[1]).contains(&m.on)).collect(),
            who,
            log,
            range,
        })
    }

    /// Workouts that were kept, of those that were planned.
    fn kept(&self) -> usize {
        self.sessions.iter().filter(|(_, kept)| *kept).count()
    }
}

/// What was found in it.
struct Seen<'a> {
    lines: Vec<Line<'a>>,
    held: Vec<review::HeldLine<'a>>,
    weeks: Vec<review::Week>,
    sides: Vec<review::SideGap<'a>>,
    pains: Vec<review::PainfulDay>,
    left_out: Vec<String>,
}

impl<'a> Seen<'a> {
    fn of(app: &'a App, read: &Read) -> Self {
        let place = |id: Option<Uuid>| id.and_then(|id| read.places.get(&id)).map(String::as_str);
        let done = |source: Option<Source>| -> Vec<Done<'_>> {
            let records = read.log.records.iter().filter(|r| source.is_none_or(|s| r.source == s));
            records.map(|r| Done { set: &r.set, place: place(r.place_id) }).collect()
        };
        let (all, trained) = (done(None), done(Some(Source::Session)));
        let ledger = app.ledger(&read.log, &read.who.unspared, read.who.today);
        Self {
            lines: review::lines(&app.catalogue, &ledger, &all, read.range),
            held: review::held_lines(&app.catalogue, &all, read.range),
            weeks: review::weeks(&app.catalogue, &trained, read.range, bavrek_core::volume::ASSISTING_COUNTS),
            sides: review::side_gaps(&app.catalogue, &trained, read.range),
            pains: review::painful_days(&all, read.range),
            left_out: in_words(&ledger.notes()),
        }
    }

    /// The lines drawn over the days; none where there are none.
    fn picture(&self, read: &Read) -> Result<Option<String>, WebError> {
        if self.lines.is_empty() {
            return Ok(None);
        }
        let say = |date| day(date, read.who.today);
        let noted: Vec<(Line<'_>, String)> = self.lines.iter().map(|l| (l.clone(), tables::note(l))).collect();
        let hurt = self.pains.iter().map(|p| (p.on, format!("{} {} of 10, {}", p.place(), p.pain, say(p.on))));
        let pains: Vec<(NaiveDate, String)> = hurt.collect();
        let kept = read.kept();
        let beneath = picture::Beneath {
            sessions: &read.sessions,
            pains: &pains,
            kept: format!("{kept} of {}", read.sessions.len()),
        };
        let [from, until] = read.range;
        let title =
            format!("Strength of {} by pattern, {from} to {until}; the table says the same", read.who.client.name);
        Ok(Some(picture::draw(&title, &noted, &beneath, read.range).render()?))
    }
}

/// The range that was asked for; what cannot be is the usual one, with a word why.
fn range(asked: &Asked, today: NaiveDate) -> ([NaiveDate; 2], Option<String>) {
    let usual = today.checked_sub_days(Days::new(USUAL_DAYS)).unwrap_or(today);
    let read = |text: &str, or: NaiveDate| if text.is_empty() { Some(or) } else { text.parse().ok() };
    let (Some(from), Some(until)) = (read(&asked.from, usual), read(&asked.until, today)) else {
        return ([usual, today], Some("One of the dates could not be read: these are the last twelve weeks.".into()));
    };
    let until = until.min(today);
    if from >= until {
        return (
            [usual, today],
            Some("The first day must lie before the last: these are the last twelve weeks.".into()),
        );
    }
    if (until - from).num_days() > LONGEST {
        let first = until.checked_sub_days(Days::new(LONGEST as u64)).unwrap_or(from);
        return ([first, until], Some("At most three years are shown at once.".into()));
    }
    ([from, until], None)
}

fn tell(
    app: &App,
    read: &Read,
    (chrome, steps, error): (Chrome, Vec<StepView>, Option<String>),
) -> Result<Page, WebError> {
    let (who, range) = (&read.who, read.range);
    let seen = Seen::of(app, read);
    let left_out = review::left_out(&seen.weeks, &read.aims, range[1]);
    let told = Told { lines: &seen.lines, held: &seen.held, left_out: &left_out, pain: seen.pains.last().copied() };
    let say = |date| day(date, who.today);
    let mut swaps: Vec<&review::Swap<'_>> = seen.lines.iter().flat_map(|l| &l.swaps).collect();
    swaps.sort_by_key(|s| std::cmp::Reverse(s.date));
    Ok(Page {
        chrome,
        client: who.client.id,
        name: who.client.name.clone(),
        steps,
        from: range[0],
        until: range[1],
        range: format!("{} to {}", say(range[0]), say(range[1])),
        ranges: [("4 weeks", 28), ("12 weeks", 84), ("half a year", 182), ("a year", 365)]
            .map(|(words, days)| (words, who.today.checked_sub_days(Days::new(days)).unwrap_or(who.today)))
            .to_vec(),
        error,
        story: story(&told).iter().map(|fact| sentence(fact, say)).collect(),
        picture: seen.picture(read)?,
        bars: tables::bars(app, who, &read.aims, &seen.weeks),
        weeks: tables::last_weeks(&seen.weeks).iter().map(|w| week_of(w.monday, who.today)).collect(),
        swaps: swaps.iter().take(SWAPS_SHOWN).map(|s| tables::swap(s, say)).collect(),
        sides: tables::sides(&seen.sides),
        worked: seen.weeks.iter().rev().map(|w| tables::worked(w, who.today)).collect(),
        masses: read.masses.iter().map(|m| (say(m.on), format!("{:.1} kg", m.mass.value()))).collect(),
        left_out: seen.left_out,
        lines: seen.lines.iter().map(|l| tables::line(l, say)).collect(),
        held: seen.held.iter().map(|l| tables::held(l, say)).collect(),
    })
}
