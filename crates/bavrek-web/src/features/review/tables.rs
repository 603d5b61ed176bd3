//! The tables and small pictures of a review: what the pictures show, in figures.

use bavrek_core::aims::{Aim, Aims};
use bavrek_core::anatomy::Region;
use bavrek_core::person::Side;
use bavrek_core::review::{Held, HeldLine, Line, SideGap, Swap, Verdict, Week};
use bavrek_core::strength::{Change, trace::NINETY};
use bavrek_core::units::trim_number;
use chrono::NaiveDate;

use crate::features::dates::week_of;
use crate::features::who::Who;
use crate::state::App;

/// Weeks of the small bars.
const BAR_WEEKS: usize = 8;
/// Height and width of the small bars.
const BAR: f64 = 40.0;
const BAR_WIDTH: f64 = 14.0;

/// A line of strength as a table.
pub(super) struct LineTable {
    pub(super) name: String,
    pub(super) yardstick: String,
    pub(super) change: String,
    /// Day, kilograms, likely range.
    pub(super) days: Vec<(String, String, String)>,
    /// Day and what came.
    pub(super) marks: Vec<(String, String)>,
}

/// A movement that was held.
pub(super) struct HeldTable {
    pub(super) name: String,
    pub(super) change: String,
    /// The best of the first day and of the last.
    pub(super) ends: String,
    /// Day, seconds, load; the latest first.
    pub(super) days: Vec<(String, u16, String)>,
    /// What could be held for as long on the latest days, as bars: left, top and height.
    pub(super) bars: Vec<[String; 3]>,
    pub(super) wide: usize,
}

/// A region's sets by week as small bars.
pub(super) struct RegionBars {
    pub(super) region: &'static str,
    /// Left, top, height of direct work; top and height of assisting work on it.
    pub(super) weeks: Vec<[String; 5]>,
    pub(super) aim_at: String,
    pub(super) aim: String,
    /// Sets by week in figures.
    pub(super) sets: Vec<String>,
}

/// What came of a swap.
pub(super) struct SwapLine {
    pub(super) names: String,
    pub(super) when: String,
    pub(super) verdict: &'static str,
    pub(super) change: String,
}

/// Left against right in a movement.
pub(super) struct SideLine {
    pub(super) name: String,
    pub(super) text: String,
}

/// A week of work.
pub(super) struct Worked {
    pub(super) week: String,
    pub(super) sets: String,
    pub(super) reps: u32,
    pub(super) tension: String,
    pub(super) moved: String,
    pub(super) pain: String,
}

fn percent(log: f64) -> String {
    format!("{:+.0}", (log.exp() - 1.0) * 100.0).replace('-', "\u{2212}").replace("+0", "0").replace("\u{2212}0", "0")
}

/// `+12 % (4 to 20)`.
pub(in crate::features) fn change(change: &Change) -> String {
    let [low, high] = change.bounds();
    format!("{} % ({} to {})", percent(change.mean), percent(low), percent(high))
}

/// What is said beside a line: its growth, whether swaps kept it, whether it stands still.
pub(super) fn note(line: &Line<'_>) -> String {
    let grown = line.change.map_or_else(String::new, |c| format!("{} %", percent(c.mean)));
    let lost = line.swaps.iter().any(|s| s.verdict == Verdict::Lost);
    let kept = line.swaps.iter().all(|s| matches!(s.verdict, Verdict::Kept | Verdict::Gained));
    if let Some(days) = line.too_light_days {
        return format!("{days} days too light to tell");
    }
    match line.still_weeks {
        Some(weeks) => format!("{grown}, still {weeks} weeks"),
        None if lost => format!("{grown}, a swap cost it"),
        None if kept && !line.swaps.is_empty() => format!("{grown}, swaps kept it"),
        None => grown,
    }
}

pub(super) fn line(line: &Line<'_>, say: impl Fn(NaiveDate) -> String) -> LineTable {
    let kg = |log: f64| trim_number(log.exp(), 1);
    let days = line.levels.iter().rev().map(|l| {
        let range = format!("{} to {}", kg(l.mean - NINETY * l.sd), kg(l.mean + NINETY * l.sd));
        (say(l.date), kg(l.mean), range)
    });
    let marks = line.marks.iter().map(|m| {
        let place = m.place.as_ref().map_or_else(String::new, |p| format!(", {p}"));
        (say(m.date), format!("{}{place}", m.to.name))
    });
    LineTable {
        name: line.pattern.name.clone(),
        yardstick: line.yardstick.name.clone(),
        change: line.change.as_ref().map_or_else(|| "not known".to_owned(), change),
        days: days.collect(),
        marks: marks.collect(),
    }
}

/// Days of the bars of a hold.
const HELD_DAYS: usize = 16;

pub(super) fn held(line: &HeldLine<'_>, say: impl Fn(NaiveDate) -> String) -> HeldTable {
    let days = line.days.iter().rev();
    let days = days.map(|d| (say(d.date), d.seconds, format!("{} kg", trim_number(d.load.value(), 1))));
    let shown = &line.days[line.days.len().saturating_sub(HELD_DAYS)..];
    let could = |day: &Held| day.strength().map_or(0.0, f64::exp);
    let most = shown.iter().map(could).fold(0.0, f64::max);
    let bar = |(i, day): (usize, &Held)| {
        let high = could(day) / most * BAR;
        [i as f64 * BAR_WIDTH, BAR - high, high].map(|value| format!("{value:.1}"))
    };
    let told = |day: &Held| format!("{} s with {} kg", day.seconds, trim_number(day.load.value(), 1));
    let ends = match &line.days[..] {
        [first, .., last] => format!("{}, {} to {}, {}", told(first), say(first.date), told(last), say(last.date)),
        days => days.iter().map(told).collect(),
    };
    HeldTable {
        name: line.movement.name.clone(),
        change: line.change.as_ref().map_or_else(|| "one day alone says nothing of a change".to_owned(), change),
        ends,
        days: days.collect(),
        bars: shown.iter().enumerate().map(bar).collect(),
        wide: shown.len() * BAR_WIDTH as usize,
    }
}

/// The latest weeks, the oldest first.
pub(super) fn last_weeks(weeks: &[Week]) -> &[Week] {
    &weeks[weeks.len().saturating_sub(BAR_WEEKS)..]
}

/// Bars for every region with an aim above keeping.
pub(super) fn bars(app: &App, who: &Who, aims: &Aims, weeks: &[Week]) -> Vec<RegionBars> {
    let weeks = last_weeks(weeks);
    let wanted = |region: &&Region| matches!(aims.of(**region).aim, Aim::Grow | Aim::Focus);
    Region::ALL.iter().filter(wanted).map(|region| region_bars(app, who, (*region, aims), weeks)).collect()
}

fn region_bars(app: &App, who: &Who, (region, aims): (Region, &Aims), weeks: &[Week]) -> RegionBars {
    let [least, most] = aims.weekly_sets(region, &app.intake.volumes, who.client.experience);
    let highest = weeks.iter().map(|w| w.volume.of(region).total()).fold(most, f64::max).max(1.0);
    let high = |sets: f64| sets / highest * BAR;
    let bars = weeks.iter().enumerate().map(|(i, week)| {
        let sets = week.volume.of(region);
        let (direct, assisting) = (high(sets.direct), high(sets.assisting));
        let number = |value: f64| format!("{value:.1}");
        [
            number(i as f64 * BAR_WIDTH),
            number(BAR - direct),
            number(direct),
            number(BAR - direct - assisting),
            number(assisting),
        ]
    });
    RegionBars {
        region: region.label(),
        weeks: bars.collect(),
        aim_at: format!("{:.1}", BAR - high(least)),
        aim: format!("{} to {}", trim_number(least, 0), trim_number(most, 0)),
        sets: weeks.iter().map(|w| trim_number(w.volume.of(region).total(), 1)).collect(),
    }
}

pub(super) fn swap(swap: &Swap<'_>, say: impl Fn(NaiveDate) -> String) -> SwapLine {
    SwapLine {
        names: format!("{} for {}", swap.to.name, swap.from.name),
        when: say(swap.date),
        verdict: swap.verdict.label(),
        change: change(&swap.change),
    }
}

/// The movements in which one side is weaker, and how many others show no gap beyond chance.
pub(super) fn sides(gaps: &[SideGap<'_>]) -> (Vec<SideLine>, usize) {
    let line = |gap: &SideGap<'_>| {
        let side = gap.weaker()?;
        // Said of the weaker side: how far below the other.
        let below = if side == Side::Left { gap.left.mean } else { -gap.left.mean };
        let text = format!("{} {:.0} % weaker, on {} days", side.label(), (1.0 - below.exp()) * 100.0, gap.days);
        Some(SideLine { name: gap.movement.name.clone(), text })
    };
    let lines: Vec<SideLine> = gaps.iter().filter_map(line).collect();
    let even = gaps.len() - lines.len();
    (lines, even)
}

pub(super) fn worked(week: &Week, today: NaiveDate) -> Worked {
    Worked {
        week: week_of(week.monday, today),
        sets: trim_number(week.sets, 1),
        reps: week.reps,
        tension: format!("{:.0}", week.tension_s / 60.0),
        moved: format!("{:.0}", week.moved_kg),
        pain: week.pain.map_or_else(String::new, |p| p.to_string()),
    }
}
