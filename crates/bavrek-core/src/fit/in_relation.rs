//! A load that is asked as a relation, in words with figures.

use super::compared::{Compared, Found, Met, Related};
use super::start::Start;
use crate::dose::{Other, Relation};
use crate::ladder::Ladder;
use crate::movement::{Movement, Style};
use crate::plan::Intent;
use crate::units::Kilograms;

/// What a load that is asked as a relation came to, and what became of it; none where none is.
pub(super) fn in_relation(intent: &Intent, movement: &Movement, ladder: &Ladder, start: &Start) -> Option<String> {
    let asked = intent.dose.relation()?;
    let what = if movement.style == Style::Hold { "held" } else { "resisted" };
    let Found { of, wanted, met } = match start.related {
        Some(Related::Found(found)) => found,
        Some(Related::Parts) => {
            let share = 100.0 * ladder.steps[start.step].band_share;
            return Some(format!("{} was asked: of this step it is {share:.0} %", asked.text()));
        }
        Some(Related::MixTooHeavy) => {
            let lightest = ladder.steps.iter().find(|step| step.is_mixed())?.effective_kg;
            return Some(format!(
                "{} was asked: it begins with less than the lightest step of both here, {lightest:.1}",
                asked.text()
            ));
        }
        Some(Related::NoMix) => {
            return Some(format!(
                "{} was asked, and nothing here adds a band to a weight in it: the usual steps",
                asked.text()
            ));
        }
        Some(why) => {
            return Some(format!("{} was asked, {}: the reps decide", asked.text(), nothing_to_compare(why, asked)));
        }
        None => {
            return Some(format!(
                "{} was asked: nobody can state the load of what is {what}, so it does not count here",
                asked.text()
            ));
        }
    };
    let step = ladder.steps[start.step].effective_kg;
    let but = match met {
        Met::Nearest => format!("this step is {step:.1}"),
        Met::TooHeavy => {
            format!("{} reps cannot be done on that, so the step is the one for the reps", intent.dose.reps[0])
        }
        Met::Unknown => {
            "no set of it is logged yet, so it begins no heavier than the estimate for the reps allows".to_owned()
        }
        Met::Torn => "its sets disagree, so it begins no heavier than the estimate for the reps allows".to_owned(),
        Met::Away { days } => {
            format!(
                "{days} days since it was last trained, so it begins no heavier than the estimate for the reps allows"
            )
        }
        Met::Spared => {
            "a joint is spared in it, so it begins no heavier than the estimate for the reps allows".to_owned()
        }
        Met::NothingSoLight => "even the lightest step here is heavier".to_owned(),
        Met::NoSuchStep => format!("there are not so many here, this step is {step:.1}"),
    };
    Some(format!("{}: {but}", asked_in_figures(asked, of, wanted)))
}

/// Why there is nothing to compare a load with, in words that follow what was asked.
pub(crate) fn nothing_to_compare(why: Related, asked: &Relation) -> String {
    match why {
        Related::Itself => "which is this movement itself".to_owned(),
        Related::Unlike => "and one of the two lifts the body, the other what is held".to_owned(),
        _ => {
            let other = asked.other().map(Other::name).unwrap_or_default();
            format!("and nothing is logged of {other} that a load can be read from")
        }
    }
}

/// What a relation asks today in figures: `80 % of a maximum of about 34.0 is 27.2`, `50 % of the 24.0 that dumbbell bench press was done
/// with on 5 Mar is 12.0`.
pub(crate) fn asked_in_figures(asked: &Relation, of: Compared, wanted: Option<[Kilograms; 2]>) -> String {
    let wanted = wanted.map_or_else(String::new, |wanted| {
        let [least, most] = wanted.map(Kilograms::two_figures);
        if (least.value() - most.value()).abs() < 0.05 {
            format!(" is {least:.1}")
        } else {
            format!(" is {least:.1} to {most:.1}")
        }
    });
    let share = asked.share_text();
    let Some((done, day)) = of.done else {
        return format!("{share} of a maximum of about {:.1}{wanted}", of.load.two_figures());
    };
    let other = asked.other().map(Other::name).unwrap_or_default();
    let joined = if matches!(asked, Relation::StepsFrom { .. }) { "" } else { " of" };
    // Where one is held by both hands and the other is not, both ways of telling a load are said.
    let (hands, as_here) = match of.load.value() / done.value() {
        less if less < 0.9 => (" in all", format!(", {:.1} each hand,", of.load)),
        more if more > 1.1 => (" each hand", format!(", {:.1} in all,", of.load)),
        _ => ("", String::new()),
    };
    format!(
        "{share}{joined} the {done:.1}{hands} that {other} was done with on {}{as_here}{wanted}",
        day.format("%-d %b")
    )
}
