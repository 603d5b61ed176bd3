//! A written line on the desk: what it means, what does its job here, its dose, and what is open.

use bavrek_core::dose::notation;
use bavrek_core::dose::{Dose, Prescription};
use bavrek_core::fit::{AsWritten, Candidate, ExclusionCode, FitAnswer, Fitter, Verdict, Worked};
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::{LadderStep, in_words, lacking};
use bavrek_core::person::Person;
use bavrek_core::plan::{BlockKind, Intent, MOST_WANTED, optional_in_words};
use bavrek_core::reading::{Names, SURE_ENOUGH, WrittenLoad, WrittenSlot, chosen, read_text};
use bavrek_core::reference::Named;
use bavrek_core::units::Kilograms;

use crate::features::catalogue;
use crate::features::dosing;
use crate::features::typed::Typed;
use crate::state::App;

/// Most other movements that are offered for a job.
const MOST_OFFERED: usize = 5;

/// A line with what was decided about it so far.
#[derive(Debug, Clone, PartialEq, Default)]
pub(super) struct Row {
    written: String,
    /// Which of the movements of its line it is, from 0.
    part: usize,
    /// The movement that is meant, by name.
    meant: String,
    /// The movement that does it here, by identifier; empty for the best one.
    by: String,
    dose: String,
    block: Option<usize>,
    kind: Option<BlockKind>,
    /// Whether it may be left out, and how many such lines are enough.
    optional: Option<u8>,
    out: bool,
    /// How surely it is meant, in words, and what that was said of: another name is the trainer's own word.
    sure: String,
    guess: String,
}

/// How sure a match is, in words.
fn surety(confidence: f64) -> &'static str {
    match confidence {
        c if c >= 0.8 => "",
        c if c >= SURE_ENOUGH => "probably",
        _ => "not clear what is meant",
    }
}

impl Row {
    /// A line as it was read, or one of several movements in it.
    pub(super) fn of(app: &App, slot: &WrittenSlot<'_>, part: usize) -> Self {
        let (home, gym) = chosen(&slot.matches);
        let named = home.or(gym).and_then(|id| Named::find(&app.catalogue, id));
        let confidence = named.and_then(|n| slot.matches.iter().find(|m| m.id == n.id())).map_or(0.0, |m| m.confidence);
        let meant = named.map_or_else(|| slot.name.clone(), |n| n.name().to_owned());
        Self {
            written: slot.written.clone(),
            part,
            guess: meant.clone(),
            meant,
            by: String::new(),
            dose: slot.dose.as_ref().map(notation::Written::text).unwrap_or_default(),
            block: slot.block,
            kind: slot.kind,
            optional: slot.optional,
            out: false,
            sure: surety(confidence).to_owned(),
        }
    }

    /// The fields of a form that hold it.
    pub(super) fn fields(self, k: usize, session: usize) -> Vec<(String, String)> {
        let field = |name: &str, value: String| (format!("{name}-{k}"), value);
        vec![
            field("session", session.to_string()),
            field("written", self.written),
            field("part", self.part.to_string()),
            field("meant", self.meant),
            field("by", self.by),
            field("dose", self.dose),
            field("block", self.block.map_or_else(String::new, |b| b.to_string())),
            field("kind", self.kind.map_or("", BlockKind::id).to_owned()),
            field("optional", self.optional.map_or_else(String::new, |n| n.to_string())),
            field("sure", self.sure),
            field("guess", self.guess),
        ]
    }

    /// The row of a form with its session; none where there is none of this number.
    pub(super) fn read(typed: &Typed, k: usize) -> Option<(usize, Self)> {
        let field = |name: &str| typed.value(&format!("{name}-{k}")).to_owned();
        let session = field("session").parse().ok()?;
        Some((
            session,
            Self {
                written: field("written").chars().take(300).collect(),
                part: field("part").parse().unwrap_or(0),
                meant: field("meant"),
                by: field("by"),
                dose: field("dose"),
                block: field("block").parse().ok(),
                kind: BlockKind::from_id(&field("kind")),
                optional: field("optional").parse().ok().filter(|n| *n <= MOST_WANTED),
                out: field("out") == "on",
                sure: if field("guess") == field("meant") { field("sure") } else { String::new() },
                guess: field("guess"),
            },
        ))
    }
}

/// A client in a room on whose desk the lines of a session lie, one after another.
pub(super) struct Desk<'a, 's> {
    pub(super) app: &'a App,
    pub(super) person: &'s Person,
    pub(super) kit: &'s [KitItem],
    pub(super) fitter: &'s Fitter<'a, 's>,
    /// What is done before the next line of the session.
    pub(super) before: Vec<Worked<'a>>,
}

/// A row as it is shown, with what would be laid.
pub(super) struct Seen {
    pub(super) number: usize,
    pub(super) written: String,
    pub(super) part: usize,
    pub(super) meant: String,
    pub(super) meant_error: Option<String>,
    pub(super) sure: String,
    pub(super) guess: String,
    pub(super) dose: String,
    pub(super) dose_error: Option<String>,
    /// What the line leaves open, and what is taken for it.
    pub(super) open: String,
    pub(super) block: Option<usize>,
    pub(super) kind: Option<BlockKind>,
    /// Of the intent: kept where the movement is not known yet.
    pub(super) optional: Option<u8>,
    pub(super) out: bool,
    /// What does the job here: identifier, words, whether it is chosen.
    pub(super) options: Vec<(String, String, bool)>,
    /// The step of the chosen one with what is expected on it.
    pub(super) on: String,
    /// Why what is meant cannot be done here, and what of the written load is kept.
    pub(super) notes: Vec<String>,
    pub(super) intent: Option<Intent>,
    pub(super) fit: Option<(String, LadderStep, Prescription)>,
}

impl Seen {
    /// That it may be left out, in words.
    pub(super) fn may(&self) -> Option<String> {
        self.optional.map(optional_in_words)
    }

    /// Whether it cannot be laid as it is.
    pub(super) const fn is_wrong(&self) -> bool {
        !self.out && (self.meant_error.is_some() || self.dose_error.is_some())
    }

    /// A row on the desk; what does it is done before the rows that come after it.
    pub(super) fn of(desk: &mut Desk<'_, '_>, (number, row): (usize, Row)) -> Self {
        let named = named(desk.app, &row.meant);
        let dose = dosing::read(&desk.app.catalogue, &row.dose);
        let mut seen = Self {
            number,
            meant_error: named.is_none().then(|| unnamed(desk.app, &row.meant)),
            dose_error: dose.as_ref().err().map(|e| refusal(&row.dose, &e.message)),
            open: open(&row.dose, dose.as_ref().ok()),
            intent: named.map(|named| {
                let base = named.intent(desk.person, &Dose::USUAL);
                let dosed = dose.map_or(base.clone(), |dose| base.dosed(dose));
                Intent { optional: row.optional, ..dosed }
            }),
            written: row.written,
            part: row.part,
            meant: row.meant,
            sure: row.sure,
            guess: row.guess,
            dose: row.dose,
            block: row.block,
            kind: row.kind,
            optional: row.optional,
            out: row.out,
            options: Vec::new(),
            on: String::new(),
            notes: Vec::new(),
            fit: None,
        };
        if let Some(named) = named {
            seen.choose(desk, (named, &row.by));
        }
        seen
    }

    /// What does the job here: what is meant where that is possible, else the best.
    fn choose(&mut self, desk: &mut Desk<'_, '_>, (named, by): (Named<'_>, &str)) {
        let Some(intent) = self.intent.clone() else { return };
        let answer = desk.fitter.fit(&intent.counted()).after(&desk.before);
        let of = |id: &str| answer.candidates.iter().find(|c| c.movement.id == id);
        let meant = of(named.id());
        if meant.is_none() {
            let hidden = hidden(desk.app, named, desk.kit);
            self.notes.extend(why_not(desk.app, named, hidden.is_some(), &intent, &answer));
            self.notes.extend(hidden);
        }
        // Nobody asked for what is too heavy here; what was written, or chosen, is the trainer's word.
        let Some(picked) = of(by).or(meant).or(answer.first_that_suits(intent.counted().dose.reps)) else {
            self.notes.push("nothing here does this job with this dose: the slot stays open".to_owned());
            return;
        };
        let is = |a: &Candidate<'_>, b: &Candidate<'_>| a.movement.id == b.movement.id;
        let others = answer.candidates.iter().filter(|c| !meant.is_some_and(|m| is(m, c)));
        let mut offered: Vec<&Candidate<'_>> = meant.into_iter().chain(others).take(MOST_OFFERED).collect();
        if !offered.iter().any(|c| is(c, picked)) {
            offered.push(picked);
        }
        let option = |c: &&Candidate<'_>| (c.movement.id.clone(), c.movement.name.clone(), is(c, picked));
        self.options = offered.iter().map(option).collect();
        let as_written = self.as_written(desk, picked, named.id() == picked.movement.id);
        if as_written.is_none() {
            self.notes.extend(dosing::doubt(picked, &intent));
        }
        let taken = as_written.as_deref().unwrap_or(picked);
        let (movement, step) = (picked.movement, taken.step().clone());
        self.on = format!("on {}: {}", step.label, taken.start.reps_text());
        let prescription = intent.prescription_for(movement.style).loaded(step.load);
        if !self.out {
            desk.before.push(Worked { movement, sets: prescription.sets.len() });
        }
        self.fit = Some((movement.id.clone(), step, prescription));
    }

    /// The chosen one on the load that was written, where that is there and may be asked; else it is said what becomes of it.
    fn as_written<'a>(
        &mut self,
        desk: &Desk<'a, '_>,
        picked: &Candidate<'a>,
        same: bool,
    ) -> Option<Box<Candidate<'a>>> {
        let load = self.load().filter(|load| *load != WrittenLoad::Body)?;
        if !same {
            self.notes.push(format!("{} was written for another movement", load.text()));
            return None;
        }
        let WrittenLoad::Stamped(stamp) = load else {
            self.notes.push(format!("{} was written; it starts by what is known of strength", load.text()));
            return None;
        };
        let weight = Kilograms(stamp.value * stamp.unit.in_kilograms());
        let counted = self.intent.as_ref()?.counted();
        match desk.fitter.as_written(picked, weight, &counted, &desk.before) {
            AsWritten::On(on) => Some(on),
            AsWritten::NotHere => {
                self.notes.push(format!("{} was written and is not here", load.text()));
                None
            }
            AsWritten::Misses(on, miss) => {
                let reps = on.start.reps_text();
                self.notes.push(format!("{} was written and is {miss}: {reps} expected", load.text()));
                None
            }
        }
    }

    /// The load that stands in its line.
    fn load(&self) -> Option<WrittenLoad> {
        let none = bavrek_core::movement::Catalogue::default();
        let plan = read_text(&Names::of(&none), &self.written).ok()?;
        plan.slots().nth(self.part).or_else(|| plan.slots().next())?.load
    }
}

/// The movement of either kind that is called so.
fn named<'a>(app: &'a App, text: &str) -> Option<Named<'a>> {
    let home = catalogue::named(&app.catalogue, text).ok().map(Named::Movement);
    home.or_else(|| catalogue::gym_named(&app.catalogue, text).map(Named::Gym))
}

/// What is said of a name that nothing has.
fn unnamed(app: &App, text: &str) -> String {
    if text.is_empty() {
        return "name the movement, or leave the line out".to_owned();
    }
    match catalogue::named(&app.catalogue, text) {
        Err(unclear) => format!("{}: name the movement, or leave the line out", unclear.says(text)),
        Ok(_) => String::new(),
    }
}

fn refusal(dose: &str, message: &str) -> String {
    if dose.is_empty() {
        return "not stated: say how many sets and repetitions, such as 3 x 8-12".to_owned();
    }
    message.to_owned()
}

/// What a dose leaves open, with what is taken for it.
fn open(line: &str, filled: Option<&Prescription>) -> String {
    let (Ok(written), Some(dose)) = (notation::read(line), filled) else { return String::new() };
    let Some(set) = dose.sets.first() else { return String::new() };
    let gaps: Vec<String> = written
        .not_stated()
        .into_iter()
        .filter_map(|gap| match gap {
            "tempo" if !set.kind.is_timed() => Some(format!("tempo {}", set.tempo)),
            "rest" => Some(format!("rest {} s", set.rest_s)),
            "reserve" => set.rir.map(|rir| format!("{rir} in reserve")),
            _ => None,
        })
        .collect();
    if gaps.is_empty() { String::new() } else { format!("not stated, so as usual: {}", gaps.join(", ")) }
}

/// Kit that what is meant needs and the room has not, whatever else stands against it.
fn hidden(app: &App, named: Named<'_>, kit: &[KitItem]) -> Option<String> {
    let lacking = lacking(app.catalogue.movement(named.id())?, kit);
    let list: Vec<String> = lacking.iter().map(in_words).collect();
    (!list.is_empty()).then(|| format!("not in this room: {}", list.join("; ")))
}

/// Why what is meant is not what is done here.
fn why_not(app: &App, named: Named<'_>, hidden: bool, intent: &Intent, answer: &FitAnswer<'_>) -> Vec<String> {
    let Some(movement) = app.catalogue.movement(named.id()) else {
        return vec![format!("{} is one of a gym", named.name())];
    };
    match answer.verdict(movement, intent) {
        // What is lacking in the room by its kind is said by itself.
        Verdict::Excluded(why) => {
            let other = why.into_iter().filter(|w| !hidden || w.code() != ExclusionCode::Kit);
            other.map(|w| format!("not here: {w}")).collect()
        }
        Verdict::OffTarget(instead) => vec![instead.to_string()],
        Verdict::Ranked(..) => Vec::new(),
    }
}
