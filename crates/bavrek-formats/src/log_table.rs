//! A log as a table from elsewhere: which columns it has, how it writes days and numbers, and what of it cannot be read.

use bavrek_core::log::{LONGEST_HOLD, MOST_REPS, MOST_RIR};
use bavrek_core::person::Side;
use bavrek_core::units::MassUnit;
use chrono::NaiveDate;
use csv::{ReaderBuilder, StringRecord};
use uuid::Uuid;

/// Rows that are read at most.
pub const MOST_ROWS: usize = 5_000;
/// Heaviest load that is no slip, kg.
const HEAVIEST_KG: f64 = 500.0;

/// A set as a row states it.
#[derive(Debug, Clone, PartialEq)]
pub struct RowSet {
    /// Its line in the file, from 1.
    pub line: u64,
    /// Its own identifier, where it has one: a row that went out comes back as the same.
    pub id: Option<Uuid>,
    /// Its day.
    pub day: NaiveDate,
    /// The movement as it is called there.
    pub movement: String,
    /// Repetitions.
    pub reps: Option<u16>,
    /// Seconds.
    pub seconds: Option<u16>,
    /// Repetitions in reserve.
    pub rir: Option<u8>,
    /// Load with its unit.
    pub load: Option<(f64, MassUnit)>,
    /// Whether the load is that of each hand (`true`) or all of it, where that is said.
    pub each_hand: Option<bool>,
    /// Effective load that was reckoned when it was done, kg.
    pub effective_kg: Option<f64>,
    /// Side.
    pub side: Option<Side>,
    /// Pain, 0 to 10.
    pub pain: Option<u8>,
}

/// What cannot be read.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Refusal {
    /// The line, from 1.
    pub line: u64,
    /// The column's head; empty where it is the row or the file.
    pub column: String,
    /// What is wrong, and what would be right.
    pub why: String,
}

/// A table as it was read.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct LogTable {
    /// Sets, in the order of the file.
    pub sets: Vec<RowSet>,
    /// What cannot be read, in the order of the file.
    pub refused: Vec<Refusal>,
    /// Heads that are not known and were passed over.
    pub passed_over: Vec<String>,
}

/// What a column holds.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Kind {
    Id,
    Day,
    Movement,
    Reps,
    Seconds,
    Reserve,
    Load(Option<MassUnit>),
    LoadOf,
    Effective,
    Side,
    Pain,
}

/// Heads by what they hold, without their units.
const HEADS: [(&[&str], Kind); 11] = [
    (&["id"], Kind::Id),
    (&["day", "date", "performed on", "performed_on"], Kind::Day),
    (&["movement", "exercise", "lift", "exercise name", "name"], Kind::Movement),
    (&["reps", "repetitions", "rep"], Kind::Reps),
    (&["seconds", "secs", "time", "duration", "hold"], Kind::Seconds),
    (&["reps in reserve", "rir", "reserve", "in reserve", "left"], Kind::Reserve),
    (&["load", "weight", "kg", "lb", "lbs"], Kind::Load(None)),
    (&["load of", "per"], Kind::LoadOf),
    (&["effective load"], Kind::Effective),
    (&["side", "arm"], Kind::Side),
    (&["pain"], Kind::Pain),
];

/// What a head says: `load (kg)` is a load in kilograms.
fn kind(head: &str) -> Option<Kind> {
    let head = head.trim().trim_start_matches('\u{feff}').to_lowercase();
    let (name, unit) = match head.split_once(['(', '[']) {
        Some((name, unit)) => (name.trim().to_owned(), unit.trim_end_matches([')', ']']).trim().to_owned()),
        None => (head.clone(), head.clone()),
    };
    let (_, kind) = HEADS.iter().find(|(names, _)| names.contains(&name.as_str()))?;
    Some(match kind {
        Kind::Load(_) if matches!(unit.as_str(), "lb" | "lbs") => Kind::Load(Some(MassUnit::Lb)),
        Kind::Load(_) if unit == "kg" => Kind::Load(Some(MassUnit::Kg)),
        other => *other,
    })
}

/// How a file separates its cells: what its first line has most of.
pub(crate) fn separator(text: &str) -> u8 {
    let first = text.lines().next().unwrap_or_default();
    let count = |c: char| first.matches(c).count();
    let [tabs, semicolons, commas] = [count('\t'), count(';'), count(',')];
    if tabs > semicolons.max(commas) {
        b'\t'
    } else if semicolons > commas {
        b';'
    } else {
        b','
    }
}

/// In which order a column writes day and month where both are numbers.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Order {
    DayFirst,
    MonthFirst,
    Unknown,
}

/// The three numbers of `3/4/2026`, `03.04.2026` or `3-4-26`.
fn parts(text: &str) -> Option<[u32; 3]> {
    let parts: Vec<&str> = text.split(['/', '.', '-']).map(str::trim).collect();
    let [a, b, year] = parts.as_slice() else { return None };
    let year: u32 = year.parse().ok()?;
    Some([a.parse().ok()?, b.parse().ok()?, if year < 100 { 2000 + year } else { year }])
}

/// What all days of a column together say of their order; with points the day is always first.
fn order<'a>(days: impl Iterator<Item = &'a str>) -> Order {
    let mut order = Order::Unknown;
    for [a, b, _] in days.filter(|d| !d.contains('.')).filter_map(parts).filter(|[a, ..]| *a <= 31) {
        let said = match (a > 12, b > 12) {
            (true, false) => Order::DayFirst,
            (false, true) => Order::MonthFirst,
            _ => continue,
        };
        if order != Order::Unknown && order != said {
            return Order::Unknown;
        }
        order = said;
    }
    order
}

/// A day by itself in one of the ways in which people write one.
pub fn day(text: &str) -> Result<NaiveDate, String> {
    day_of(text, Order::Unknown)
}

/// The days that a text can be read as, where it can be read in two ways: the day first, then the month first.
pub fn both_days(text: &str) -> Vec<NaiveDate> {
    if parts(text.trim()).is_none_or(|[a, b, _]| a == b || a > 12 || b > 12) || text.contains('.') {
        return Vec::new();
    }
    [Order::DayFirst, Order::MonthFirst].iter().filter_map(|order| day_of(text, *order).ok()).collect()
}

/// The same in a column that says in which order it writes day and month.
fn day_of(text: &str, order: Order) -> Result<NaiveDate, String> {
    let text = text.trim();
    // A moment begins with its day.
    let date = text.split(['T', ' ']).next().unwrap_or_default();
    for form in ["%Y-%m-%d", "%Y/%m/%d", "%Y%m%d"] {
        if let Ok(day) = NaiveDate::parse_from_str(date, form) {
            return Ok(day);
        }
    }
    for form in ["%d %b %Y", "%d %B %Y", "%b %d, %Y", "%B %d, %Y", "%d-%b-%Y"] {
        if let Ok(day) = NaiveDate::parse_from_str(text, form) {
            return Ok(day);
        }
    }
    let Some([a, b, year]) = parts(date) else {
        return Err(format!("{text:?} is no day: write it as 2026-04-03"));
    };
    let order = if date.contains('.') || a > 12 { Order::DayFirst } else { order };
    let order = if b > 12 { Order::MonthFirst } else { order };
    let found = match order {
        Order::DayFirst => NaiveDate::from_ymd_opt(year as i32, b, a),
        Order::MonthFirst => NaiveDate::from_ymd_opt(year as i32, a, b),
        Order::Unknown if a == b => NaiveDate::from_ymd_opt(year as i32, a, b),
        Order::Unknown => return Err(format!("{text:?} can be read in two ways: write it as 2026-04-03")),
    };
    found.ok_or_else(|| format!("{text:?} is no day: write it as 2026-04-03"))
}

/// A number with a point or a comma.
fn number(text: &str) -> Option<f64> {
    let text = text.trim().replace(',', ".");
    text.parse::<f64>().ok().filter(|n| n.is_finite())
}

fn whole(text: &str, most: u16, least: u16) -> Result<Option<u16>, String> {
    let text = text.trim();
    if text.is_empty() {
        return Ok(None);
    }
    let found = number(text).filter(|n| n.fract() == 0.0 && (f64::from(least)..=f64::from(most)).contains(n));
    found.map(|n| Some(n as u16)).ok_or_else(|| format!("{text:?} must be a whole number from {least} to {most}"))
}

/// A load with the unit of its cell, of its column, or kilograms.
fn load(text: &str, unit: Option<MassUnit>) -> Result<Option<(f64, MassUnit)>, String> {
    let text = text.trim().to_lowercase();
    if text.is_empty() || matches!(text.as_str(), "bw" | "bodyweight" | "body weight" | "-") {
        return Ok(None);
    }
    let (figures, own) = match text.trim_end_matches('s') {
        t if t.ends_with("kg") => (t.trim_end_matches("kg").to_owned(), Some(MassUnit::Kg)),
        t if t.ends_with("lb") => (t.trim_end_matches("lb").to_owned(), Some(MassUnit::Lb)),
        _ => (text.clone(), None),
    };
    let unit = own.or(unit).unwrap_or(MassUnit::Kg);
    match number(&figures) {
        Some(value) if (0.0..=HEAVIEST_KG).contains(&(value * unit.in_kilograms())) => {
            Ok((value > 0.0).then_some((value, unit)))
        }
        _ => Err(format!("{text:?} must be a load from 0 to {HEAVIEST_KG:.0} kg")),
    }
}

/// Reads a table. Nothing is guessed: what is not clear is refused with its line and column.
pub fn read(text: &str) -> LogTable {
    let mut table = LogTable::default();
    let mut refuse = |line: u64, column: &str, why: String| {
        table.refused.push(Refusal { line, column: column.to_owned(), why });
    };
    if text.contains('\u{fffd}') {
        let line = 1 + text.split('\u{fffd}').next().map_or(0, |before| before.matches('\n').count() as u64);
        refuse(line, "", "the file is not in UTF-8: save it as CSV UTF-8 and load it again".into());
        return table;
    }
    let text = text.trim_start_matches('\u{feff}');
    let mut reader =
        ReaderBuilder::new().delimiter(separator(text)).flexible(true).from_reader(text.trim_start().as_bytes());
    let heads: Vec<String> = reader.headers().map(|h| h.iter().map(str::to_owned).collect()).unwrap_or_default();
    let columns: Vec<(usize, &str, Kind)> =
        heads.iter().enumerate().filter_map(|(i, head)| Some((i, head.as_str(), kind(head)?))).collect();
    for (needed, name) in [(Kind::Day, "day"), (Kind::Movement, "movement")] {
        if columns.iter().all(|(.., kind)| *kind != needed) {
            refuse(1, name, format!("there is no column {name:?}: its first line has to name the columns"));
        }
    }
    if columns.iter().all(|(.., kind)| !matches!(kind, Kind::Reps | Kind::Seconds)) {
        refuse(1, "reps", "there is no column \"reps\" and none \"seconds\"".into());
    }
    if !table.refused.is_empty() {
        return table;
    }
    let mut rows: Vec<(u64, StringRecord)> = Vec::new();
    for record in reader.records() {
        match record {
            Ok(_) if rows.len() == MOST_ROWS => {
                let why = format!("more than {MOST_ROWS} rows: what comes after is not read; load it as a second file");
                table.refused.push(Refusal { line: rows.len() as u64 + 2, column: String::new(), why });
                break;
            }
            Ok(record) if record.iter().all(|cell| cell.trim().is_empty()) => {}
            Ok(record) => rows.push((record.position().map_or(0, csv::Position::line), record)),
            Err(error) => {
                let line = error.position().map_or(0, csv::Position::line);
                table.refused.push(Refusal { line, column: String::new(), why: format!("cannot be read: {error}") });
            }
        }
    }
    let day_column = columns.iter().find(|(.., kind)| *kind == Kind::Day).map_or(0, |(i, ..)| *i);
    let order = order(rows.iter().filter_map(|(_, row)| row.get(day_column)));
    for (line, row) in &rows {
        match set(*line, row, &columns, order) {
            Ok(set) => table.sets.push(set),
            Err((column, why)) => table.refused.push(Refusal { line: *line, column, why }),
        }
    }
    table.refused.sort_by_key(|r| r.line);
    let known = |i: usize| columns.iter().any(|(at, ..)| *at == i);
    table.passed_over =
        heads.iter().enumerate().filter(|(i, h)| !known(*i) && !h.trim().is_empty()).map(|(_, h)| h.clone()).collect();
    table
}

fn set(
    line: u64,
    row: &StringRecord,
    columns: &[(usize, &str, Kind)],
    order: Order,
) -> Result<RowSet, (String, String)> {
    let mut set = RowSet {
        line,
        id: None,
        day: NaiveDate::MIN,
        movement: String::new(),
        reps: None,
        seconds: None,
        rir: None,
        load: None,
        each_hand: None,
        effective_kg: None,
        side: None,
        pain: None,
    };
    for (at, head, kind) in columns {
        let cell = row.get(*at).unwrap_or_default().trim();
        // What went out so that it is no formula comes back without its mark.
        let cell = cell.strip_prefix('\'').unwrap_or(cell);
        let taken: Result<(), String> = match kind {
            Kind::Id => {
                set.id = cell.parse().ok();
                Ok(())
            }
            Kind::Day => day_of(cell, order).map(|day| set.day = day),
            Kind::Movement if cell.is_empty() => Err("is empty: which movement was it?".into()),
            Kind::Movement => {
                set.movement = cell.chars().take(200).collect();
                Ok(())
            }
            Kind::Reps => whole(cell, MOST_REPS, 0).map(|n| set.reps = n),
            Kind::Seconds => whole(cell, LONGEST_HOLD, 1).map(|n| set.seconds = n),
            Kind::Effective => load(cell, Some(MassUnit::Kg)).map(|l| set.effective_kg = l.map(|(kg, _)| kg)),
            // "5+" is five, and more than can be judged is that.
            Kind::Reserve => whole(cell.trim_end_matches('+'), 20, 0)
                .map(|n| n.map(|n| n as u8))
                .map(|n| set.rir = n.map(|n| n.min(MOST_RIR))),
            Kind::Load(unit) => load(cell, *unit).map(|load| set.load = load.or(set.load)),
            Kind::LoadOf => {
                set.each_hand = match cell.to_lowercase().as_str() {
                    "each hand" | "hand" | "each" => Some(true),
                    "all of it" | "total" | "both" => Some(false),
                    _ => None,
                };
                Ok(())
            }
            Kind::Side if cell.is_empty() => Ok(()),
            Kind::Side => match cell.to_lowercase().as_str() {
                "left" | "l" => {
                    set.side = Some(Side::Left);
                    Ok(())
                }
                "right" | "r" => {
                    set.side = Some(Side::Right);
                    Ok(())
                }
                "both" | "both sides" => Ok(()),
                _ => Err(format!("{cell:?} must be left, right or both")),
            },
            Kind::Pain => whole(cell, 10, 0).map(|n| set.pain = n.map(|n| n as u8)),
        };
        taken.map_err(|why| ((*head).to_owned(), why))?;
    }
    if set.reps.is_none() && set.seconds.is_none() {
        return Err(("reps".into(), "neither repetitions nor seconds are stated".into()));
    }
    Ok(set)
}
