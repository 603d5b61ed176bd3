//! The form of an intent: what was typed, read off a movement, and as an intent.

use std::collections::BTreeMap;

use bavrek_core::anatomy::{ArmPosition, Grip, LengthEmphasis, Pattern, Region};
use bavrek_core::dose::{Dose, Prescription, StopRule, notation};
use bavrek_core::execution::{Elbows, Execution, LONGEST_CUE, RangePart};
use bavrek_core::movement::Catalogue;
use bavrek_core::person::Person;
use bavrek_core::plan::{BlockKind, Intent, MOST_WANTED, Sides, optional_in_words};
use bavrek_core::quantity;
use bavrek_core::ranges::LegalRange;
use bavrek_core::reference::Named;
use bavrek_core::school::mirror;
use bavrek_core::units::trim_number;
use uuid::Uuid;

use crate::features::catalogue::{gym_named, named};
use crate::features::dosing;
use crate::features::typed::{Input, Typed};

/// Repetitions of a set.
const REPS: LegalRange = LegalRange { min: 1.0, max: 40.0, unit: "repetitions" };
/// Repetitions in reserve.
const RESERVE: LegalRange = LegalRange { min: 0.0, max: 6.0, unit: "in reserve" };
/// Sets.
const SETS: LegalRange = LegalRange { min: 1.0, max: 12.0, unit: "sets" };
/// Weight of a region.
const WEIGHT: LegalRange = LegalRange { min: 0.0, max: 1.0, unit: "as a share" };

/// The field of a region's weight.
pub(super) fn region_field(region: Region) -> String {
    format!("region_{}", region.id())
}

/// The regions that were typed, with what counts; what cannot be read is left out.
pub(super) fn weights(typed: &Typed) -> BTreeMap<Region, f64> {
    let weight = |region: &Region| {
        let read = quantity::read("", typed.value(&region_field(*region)), WEIGHT).ok()?;
        (read.value > 0.0).then_some((*region, read.value))
    };
    Region::ALL.iter().filter_map(weight).collect()
}

/// What a new slot shows: the usual dose, nothing else said.
pub(super) fn usual() -> Typed {
    let dose = [("reps_low", "8"), ("reps_high", "12"), ("rir", "2"), ("sets", "3"), ("stop", "reserve")];
    Typed::usual(dose.map(|(name, value)| (name, value.to_owned())))
}

/// What a new slot for a region shows: the usual dose, and the pattern that most of what trains it belongs to.
pub(super) fn of_region(catalogue: &Catalogue, region: Region) -> Typed {
    let mut values = usual().into_map();
    values.insert(region_field(region), "1".to_owned());
    if let Some(pattern) = catalogue.usual_pattern(region) {
        values.insert("pattern".to_owned(), pattern.id().to_owned());
    }
    Typed::from_map(values)
}

/// What a new slot shows that mirrors a press: the pull along its path with the same dose, by turns with it. None where it is no
/// press.
pub(super) fn mirrored(catalogue: &Catalogue, press: &Intent, block: Uuid) -> Option<Typed> {
    let (pattern, region) = mirror(press.pattern)?;
    let mut values = typed_of(catalogue, press).into_map();
    values.retain(|name, _| KEPT.contains(&name.as_str()));
    for name in ["range", "elbows", "cue", "optional"] {
        values.remove(name);
    }
    values.insert("pattern".to_owned(), pattern.id().to_owned());
    values.insert(region_field(region), "1".to_owned());
    values.insert("block".to_owned(), block.to_string());
    values.insert("kind".to_owned(), BlockKind::Antagonist.id().to_owned());
    Some(Typed::from_map(values))
}

/// The form that an intent fills.
pub(super) fn typed_of(catalogue: &Catalogue, intent: &Intent) -> Typed {
    let reference = intent.reference_exercise.as_deref().and_then(|id| Named::find(catalogue, id));
    let mut values: BTreeMap<String, String> = BTreeMap::new();
    let mut put = |name: &str, value: String| values.insert(name.to_owned(), value);
    put("reference", reference.map_or_else(String::new, |r| r.name().to_owned()));
    put("pattern", intent.pattern.id().to_owned());
    put("arm", intent.arm_position.map_or("", ArmPosition::id).to_owned());
    put("grip", intent.grip.map_or("", Grip::id).to_owned());
    put("length", intent.length_emphasis.map_or("", LengthEmphasis::id).to_owned());
    put("sides", intent.sides.map_or("", Sides::id).to_owned());
    put("stop", intent.dose.stop.unwrap_or(StopRule::Reserve).id().to_owned());
    put("reps_low", intent.dose.reps[0].to_string());
    put("reps_high", intent.dose.reps[1].to_string());
    put("rir", intent.dose.rir.to_string());
    put("sets", intent.dose.sets.to_string());
    put("line", intent.dose.written.as_ref().map_or_else(String::new, Prescription::text));
    put("range", intent.execution.range.map_or("", RangePart::id).to_owned());
    put("elbows", intent.execution.elbows.map_or("", Elbows::id).to_owned());
    put("cue", intent.execution.cue.clone().unwrap_or_default());
    put("optional", intent.optional.map_or_else(String::new, |wanted| wanted.to_string()));
    put("tempo", intent.dose.tempo.map_or_else(String::new, |t| t.to_string()));
    for (region, weight) in &intent.regions {
        put(&region_field(*region), trim_number(*weight, 2));
    }
    Typed::from_map(values)
}

/// Fields of which a movement says nothing.
const KEPT: [&str; 15] = [
    "reps_low",
    "reps_high",
    "rir",
    "sets",
    "tempo",
    "stop",
    "line",
    "block",
    "kind",
    "id",
    "version",
    "range",
    "elbows",
    "cue",
    "optional",
];

/// What was typed, with all that a movement says put in its place; the dose and the execution stay. An error stands beside the
/// reference where no movement is meant.
pub(super) fn read_off(catalogue: &Catalogue, person: &Person, mut typed: Typed) -> Typed {
    if typed.value("reference").is_empty() {
        typed.refuse("reference", "name a movement to read off");
        return typed;
    }
    let Some(found) = reference(catalogue, &mut typed) else { return typed };
    // The dose is typed over again from the form itself: what was typed stays even where it cannot be used yet.
    let mut values = typed_of(catalogue, &found.intent(person, &Dose::USUAL)).into_map();
    for field in KEPT {
        values.insert(field.to_owned(), typed.value(field).to_owned());
    }
    Typed::from_map(values)
}

/// The movement that is named as the reference; none where the field is empty, or with an error beside it.
fn reference<'a>(catalogue: &'a Catalogue, typed: &mut Typed) -> Option<Named<'a>> {
    let text = typed.value("reference").to_owned();
    if text.is_empty() {
        return None;
    }
    if let Some(gym) = gym_named(catalogue, &text) {
        return Some(Named::Gym(gym));
    }
    match named(catalogue, &text) {
        Ok(movement) => Some(Named::Movement(movement)),
        Err(unclear) => {
            typed.refuse("reference", unclear.says(&text));
            typed.offer("reference", unclear.names.into_iter().map(str::to_owned).collect());
            None
        }
    }
}

/// The intent that was typed; what cannot be used gets its error. None where any field is refused.
pub(super) fn read(catalogue: &Catalogue, typed: &mut Typed) -> Option<Intent> {
    let reference = reference(catalogue, typed).map(|r| r.id().to_owned());
    let pattern = typed.needed_word("pattern", Pattern::from_id);
    let arm_position = typed.word("arm", ArmPosition::from_id);
    let grip = typed.word("grip", Grip::from_id);
    let length_emphasis = typed.word("length", LengthEmphasis::from_id);
    let sides = typed.word("sides", Sides::from_id);
    let stop = typed.word("stop", StopRule::from_id).filter(|s| *s != StopRule::Reserve);
    let regions = regions(typed);
    let execution = Execution {
        range: typed.word("range", RangePart::from_id),
        elbows: typed.word("elbows", Elbows::from_id),
        cue: Some(typed.text("cue", LONGEST_CUE)).filter(|cue| !cue.is_empty()),
    };
    let optional = typed.word("optional", |text| text.parse().ok().filter(|wanted| *wanted <= MOST_WANTED));
    let dose = dose(catalogue, typed, stop);
    let intent = Intent {
        pattern: pattern?,
        regions,
        arm_position,
        grip,
        length_emphasis,
        sides,
        dose: dose?,
        reference_exercise: reference,
        execution,
        optional,
    };
    typed.fine().then_some(intent)
}

/// The dose: from the line, where one was written, else from the fields.
fn dose(catalogue: &Catalogue, typed: &mut Typed, stop: Option<StopRule>) -> Option<Dose> {
    let line = typed.text("line", notation::LONGEST_LINE);
    if !line.is_empty() {
        let filled = typed.take("line", dosing::read(catalogue, &line))?;
        return Some(Dose { stop, ..Dose::USUAL }.with(filled));
    }
    let whole = |typed: &mut Typed, name: &str, range: LegalRange| {
        let value = typed.whole(name, range);
        if value.is_none() {
            typed.refuse(name, "is needed");
        }
        value
    };
    let low = whole(typed, "reps_low", REPS);
    let high = whole(typed, "reps_high", REPS);
    if let (Some(low), Some(high)) = (low, high)
        && low > high
    {
        typed.refuse("reps_high", format!("must be {low} or more: the larger number comes second"));
    }
    let rir = whole(typed, "rir", RESERVE);
    let sets = whole(typed, "sets", SETS);
    let tempo = match typed.value("tempo").to_owned() {
        text if text.is_empty() => None,
        text => typed.take("tempo", text.parse()),
    };
    Some(Dose { reps: [low? as u16, high? as u16], rir: rir? as u8, sets: sets? as u8, tempo, stop, written: None })
}

/// The regions with a weight above nothing.
fn regions(typed: &mut Typed) -> BTreeMap<Region, f64> {
    let mut found = BTreeMap::new();
    for region in Region::ALL {
        if let Some(weight) = typed.number(&region_field(*region), WEIGHT).filter(|w| *w > 0.0) {
            found.insert(*region, weight);
        }
    }
    if found.is_empty() && regions_error(typed).is_none() {
        typed.refuse("regions", "name at least one region");
    }
    found
}

/// What is wrong with the regions: the first that cannot be used, else that none is named.
pub(super) fn regions_error(typed: &Typed) -> Option<String> {
    let wrong = |r: &Region| Some(format!("{r}: {}", typed.error(&region_field(*r))?));
    Region::ALL.iter().find_map(wrong).or_else(|| typed.error("regions").map(str::to_owned))
}

/// What the movement is to be.
pub(super) fn kind_inputs(typed: &Typed) -> Vec<Input> {
    let text = |name, label| Input::text(typed, name, label, "");
    let any = Some("does not matter");
    vec![
        text("pattern", "Pattern").select(Some("choose"), Pattern::ALL.iter().map(|p| (p.id(), p.label()))),
        text("arm", "Upper arm").select(any, ArmPosition::ALL.iter().map(|a| (a.id(), a.label()))),
        text("grip", "Grip").select(any, Grip::ALL.iter().map(|g| (g.id(), g.label()))),
        text("length", "Hardest").select(any, LengthEmphasis::ALL.iter().map(|l| (l.id(), l.label()))),
        text("sides", "Sides").select(any, Sides::ALL.iter().map(|s| (s.id(), s.label()))),
    ]
}

/// How it is dosed.
pub(super) fn dose_inputs(typed: &Typed) -> Vec<Input> {
    let text = |name, label, hint| Input::text(typed, name, label, hint);
    vec![
        text("sets", "Sets", "3"),
        text("reps_low", "Reps, from", "8"),
        text("reps_high", "to", "12"),
        text("rir", "In reserve", "2"),
        text("tempo", "Tempo", "2-0-1-0"),
        text("stop", "A set ends", "").select(None, StopRule::ALL.iter().map(|s| (s.id(), s.label()))),
    ]
}

/// How its repetitions are done, whatever the movement.
pub(super) fn execution_inputs(typed: &Typed) -> Vec<Input> {
    let text = |name, label, hint| Input::text(typed, name, label, hint);
    vec![
        text("range", "Range", "").select(Some("the whole range"), RangePart::ALL.iter().map(|p| (p.id(), p.label()))),
        text("elbows", "Elbows", "")
            .select(Some("as the movement says"), Elbows::ALL.iter().map(|e| (e.id(), e.label()))),
        text("cue", "Your own cue", "in place of the movement's"),
    ]
}

/// The dose in one line.
pub(super) fn line_input(typed: &Typed) -> Input {
    Input::text(typed, "line", "In one line", "3 x 8-12 @ 3-0-1-0, 2 in reserve, last to failure")
}

/// Whether it is always done.
pub(super) fn optional_input(typed: &Typed) -> Input {
    let may = |wanted: u8| (wanted.to_string(), optional_in_words(wanted));
    let ways: Vec<(String, String)> = (0..=MOST_WANTED).map(may).collect();
    let ways = ways.iter().map(|(id, label)| (id.as_str(), label.as_str()));
    Input::text(typed, "optional", "This line", "").select(Some("always done"), ways)
}

/// With which slots a new one is done.
pub(super) fn block_inputs(typed: &Typed, blocks: &[(String, String)]) -> Vec<Input> {
    let text = |name, label| Input::text(typed, name, label, "");
    let together = BlockKind::ALL.iter().filter(|k| **k != BlockKind::Straight);
    vec![
        text("block", "Done")
            .select(Some("on its own"), blocks.iter().map(|(id, label)| (id.as_str(), label.as_str()))),
        text("kind", "Together as").select(None, together.map(|k| (k.id(), k.label()))),
    ]
}
