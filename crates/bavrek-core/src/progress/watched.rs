//! What was seen or felt: each observation decides something.

use super::Caller;
use super::call::{Call, CallKind};
use super::sessions::Session;
use crate::log::LoggedSet;
use crate::log::Observation::{
    self, AnchorMoved, BackLifted, BandSlack, BandTooEasy, Easy, ElbowDrift, FeltElsewhere, FeltInFrontShoulder,
    FeltInTriceps, FeltOnTarget, FlyBecamePress, ForearmTips, Hard, HipsSagged, Impossible, RangeShort, RingsShook,
    ShoulderRolled, SideGap, SpeedLost, Swinging,
};
use crate::person::Side;

/// Sides that differ by this share of the better one differ.
const GAP: f64 = 0.15;
/// Sessions after which straps that shake are no longer a beginner's.
const USED_TO_RINGS: usize = 4;

/// Signs that the load is too heavy for the form.
const TOO_HEAVY: [Observation; 4] = [RangeShort, Swinging, ElbowDrift, ShoulderRolled];
/// Signs that end a set at once and make the next one easier.
const ENDS_THE_SET: [Observation; 2] = [BackLifted, HipsSagged];

impl Caller<'_> {
    /// The call that an observation of the last session leads to; none where it leaves the repetitions to decide.
    pub(super) fn watched(&self, last: &Session<'_>) -> Option<Call> {
        if last.saw(AnchorMoved) > 0 {
            return Some(self.hold("the anchor or furniture moved: change the set-up first"));
        }
        if let Some(seen) = ENDS_THE_SET.into_iter().find(|o| last.saw(*o) > 0) {
            return Some(self.ease(&format!("{seen}: the set ends there, and the next is easier")));
        }
        if last.saw(FlyBecamePress) > 0 {
            return Some(self.ease("elbows open and close: it has become a press, so lighter"));
        }
        self.form(last)
            .or_else(|| self.felt(last))
            .or_else(|| self.band(last))
            .or_else(|| self.effort(last))
            .or_else(|| self.pace(last))
    }

    fn hold(&self, reason: &str) -> Call {
        self.call(CallKind::Hold, self.at, vec![reason.to_owned()])
    }

    fn ease(&self, reason: &str) -> Call {
        self.call(CallKind::Ease, self.below().or(self.at), vec![reason.to_owned()])
    }

    /// Range and form: once the same load again, clean; twice the load is too heavy. The range comes first.
    fn form(&self, last: &Session<'_>) -> Option<Call> {
        // Where a half of the range is chosen, that it was not the whole is no fault.
        let chosen = self.question.intent.part_for(self.movement).is_some();
        let heavy = |o: &Observation| TOO_HEAVY.contains(o) && !(chosen && *o == RangeShort);
        let broken = last.count(|s: &LoggedSet| s.form_kept == Some(false) || s.seen.iter().any(heavy));
        let seen: Vec<_> = TOO_HEAVY
            .into_iter()
            .filter(|o| heavy(o) && last.saw(*o) > 0)
            .map(super::super::log::Observation::label)
            .collect();
        let what = if seen.is_empty() { "form was lost".to_owned() } else { seen.join(", ") };
        match broken {
            0 => None,
            1 => Some(self.hold(&format!("{what} in one set: the same load once more, clean"))),
            sets => Some(self.ease(&format!("{what} in {sets} sets: the load is too heavy, the range comes first"))),
        }
    }

    /// Felt somewhere else: advice the first day, a variant that asks less of that place the second.
    fn felt_elsewhere(&self, last: &Session<'_>) -> Option<Call> {
        let elsewhere = |s: &Session<'_>| {
            let told = s.sets.iter().find(|set| set.seen.contains(&FeltElsewhere))?;
            Some(told.felt_at)
        };
        let place = elsewhere(last)?.filter(|region| !self.question.intent.regions.contains_key(region));
        let what = place.map_or_else(|| "felt somewhere else".to_owned(), |region| format!("felt in the {region}"));
        let again = self.sessions.iter().rev().nth(1).and_then(elsewhere);
        if again.is_none_or(|before| before != place && place.is_some() && before.is_some()) {
            let advice = "lighter and slower, the cue first; twice, and another variant is better";
            return Some(self.hold(&format!("{what}: {advice}")));
        }
        let on_two = format!("{what} on two days running");
        let Some((variant, differs)) = self.variant_without(place) else {
            return Some(self.swap(vec![format!("{on_two}: another movement for the job")]));
        };
        let mut call = self.swap(vec![format!("{on_two}: {}, with {differs}", variant.text)]);
        call.alternatives.retain(|a| a.exercise != variant.exercise);
        call.alternatives.insert(0, variant);
        Some(call)
    }

    /// Where it was felt: advice the first day, another movement the second.
    fn felt(&self, last: &Session<'_>) -> Option<Call> {
        if let Some(call) = self.felt_elsewhere(last) {
            return Some(call);
        }
        let cases = [
            (FeltInTriceps, "felt in the triceps before the chest", "wider hands, or tire the chest first"),
            (
                FeltInFrontShoulder,
                "felt in the front shoulder",
                "tuck the elbows a little, a lower incline, or the floor",
            ),
        ];
        for (seen, what, advice) in cases {
            if last.saw(seen) == 0 {
                continue;
            }
            let days = self.sessions.iter().rev().take(2).filter(|s| s.saw(seen) > 0).count();
            return Some(if days >= 2 {
                self.swap(vec![format!("{what} on two days running: another movement for the job")])
            } else {
                self.hold(&format!("{what}: {advice}"))
            });
        }
        (last.saw(ForearmTips) > 0)
            .then(|| self.hold("the forearms tip: hands nearer or a shorter range until they stay upright"))
    }

    /// A band that is too easy early is stretched further; one that is slack is brought to pull from the first degree.
    fn band(&self, last: &Session<'_>) -> Option<Call> {
        if last.saw(BandSlack) > 0 {
            return Some(self.hold("the band is slack at the start: step away or grip nearer until it pulls at once"));
        }
        if last.saw(BandTooEasy) == 0 || last.below_bottom() {
            return None;
        }
        let at = self.at?;
        let bands = &self.ladder.steps[at].bands;
        // Without a band in the step there is nothing to stretch.
        if bands.is_empty() {
            return None;
        }
        let stretched = (at + 1..self.ladder.steps.len()).find(|i| self.ladder.steps[*i].bands == *bands);
        let up = stretched.or_else(|| self.above())?;
        let reason = format!("the band was too easy by about the fifth repetition: {}", self.ladder.steps[up].label);
        Some(self.call(CallKind::AddLoad, Some(up), vec![reason]))
    }

    /// How the last repetitions went, where it says more than their number.
    fn effort(&self, last: &Session<'_>) -> Option<Call> {
        let most = |seen| last.saw(seen) * 2 > last.sets.len();
        if last.saw(Impossible) > 0 {
            return Some(if last.below_bottom() {
                self.ease("the last repetitions were impossible, below the zone: a lighter step")
            } else {
                self.hold("the last repetitions were impossible inside the zone: enough for size, the same step")
            });
        }
        if most(Hard) && !last.below_bottom() {
            return Some(self.hold("the last repetitions were hard: the same step once more"));
        }
        if most(Easy) && !last.below_bottom() && !last.at_top() {
            let easy = "the last repetitions were easy";
            return self.risen_by_estimate(last, easy).or_else(|| {
                let reasons =
                    vec![format!("{}: {easy}", last.told()), "two more reps in each set, the same load".into()];
                Some(self.call(CallKind::AddReps, self.at, reasons))
            });
        }
        None
    }

    /// Lowering speed and shaking straps.
    fn pace(&self, last: &Session<'_>) -> Option<Call> {
        if last.saw(SpeedLost) > 0 {
            return Some(self.hold("the lowering speed was lost: the set ends there; the same step until it is held"));
        }
        if last.saw(RingsShook) > 0 && self.sessions.len() >= USED_TO_RINGS {
            return Some(self.hold("the straps still shake: higher rings until the path is kept"));
        }
        None
    }

    /// What is said beside whatever is called: sides that differ, a variant that fits.
    pub(super) fn beside(last: &Session<'_>) -> Option<String> {
        let policy = "the weaker side first, the stronger matches it";
        let of = |side: Side| {
            let sets: Vec<f64> = last
                .counted
                .iter()
                .filter(|c| c.set.side == Some(side))
                .map(|c| f64::from(c.reps()) + c.reserve())
                .collect();
            (!sets.is_empty()).then(|| sets.iter().sum::<f64>() / sets.len() as f64)
        };
        if let (Some(left), Some(right)) = (of(Side::Left), of(Side::Right)) {
            let gap = (left - right).abs() / left.max(right).max(1.0);
            if gap >= GAP {
                let weaker = if left < right { "left" } else { "right" };
                return Some(format!("the {weaker} side does {:.0} % less: {policy}", gap * 100.0));
            }
        }
        if last.saw(SideGap) > 0 {
            return Some(format!("left and right differ: {policy}"));
        }
        (last.saw(FeltOnTarget) > 0).then(|| "felt where it should be: this variant fits, keep it".to_owned())
    }
}
