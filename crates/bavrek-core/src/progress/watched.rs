//! What was seen or felt: each observation decides something.

use super::Caller;
use super::call::Call;
use super::kind::CallKind;
use super::reason::{Beside, Next, Reason, Seen, Then, Went};
use super::sessions::Session;
use crate::anatomy::Region;
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
            return Some(self.hold(Seen::AnchorMoved));
        }
        if let Some(seen) = ENDS_THE_SET.into_iter().find(|o| last.saw(*o) > 0) {
            return Some(self.ease(Seen::EndsTheSet(seen)));
        }
        if last.saw(FlyBecamePress) > 0 {
            return Some(self.ease(Seen::BecamePress));
        }
        self.form(last)
            .or_else(|| self.felt(last))
            .or_else(|| self.band(last))
            .or_else(|| self.effort(last))
            .or_else(|| self.pace(last))
    }

    fn hold(&self, seen: Seen) -> Call {
        self.call(CallKind::Hold, self.at, vec![Reason::Seen(seen)])
    }

    fn ease(&self, seen: Seen) -> Call {
        self.call(CallKind::Ease, self.below().or(self.at), vec![Reason::Seen(seen)])
    }

    /// Range and form: once the same load again, clean; twice the load is too heavy. The range comes first.
    fn form(&self, last: &Session<'_>) -> Option<Call> {
        // Where a half of the range is chosen, that it was not the whole is no fault.
        let chosen = self.question.intent.part_for(self.movement).is_some();
        let heavy = |o: &Observation| TOO_HEAVY.contains(o) && !(chosen && *o == RangeShort);
        let broken = last.count(|s: &LoggedSet| s.form_kept == Some(false) || s.seen.iter().any(heavy));
        let signs = TOO_HEAVY.into_iter().filter(|o| heavy(o) && last.saw(*o) > 0).collect();
        let seen = Seen::FormBroken { signs, sets: broken };
        match broken {
            0 => None,
            1 => Some(self.hold(seen)),
            _ => Some(self.ease(seen)),
        }
    }

    /// Felt somewhere else: advice the first day, a variant that asks less of that place the second.
    fn felt_elsewhere(&self, last: &Session<'_>) -> Option<Call> {
        let elsewhere = |s: &Session<'_>| {
            let told = s.sets.iter().find(|set| set.seen.contains(&FeltElsewhere))?;
            Some(told.felt_at)
        };
        let place = elsewhere(last)?.filter(|region| !self.question.intent.regions.contains_key(region));
        let again = self.sessions.iter().rev().nth(1).and_then(elsewhere);
        if again.is_none_or(|before| before != place && place.is_some() && before.is_some()) {
            return Some(self.hold(Seen::FeltElsewhere { place, then: Then::Advice }));
        }
        let swap = |then| self.swap(vec![Reason::Seen(Seen::FeltElsewhere { place, then })]);
        let Some((variant, differs)) = self.variant_without(place) else {
            return Some(swap(Then::AnotherMovement));
        };
        let mut call = swap(Then::Variant { variant: Box::new(variant.clone()), differs });
        call.alternatives.retain(|a| a.exercise() != variant.exercise());
        call.alternatives.insert(0, variant);
        Some(call)
    }

    /// Where it was felt: advice the first day, another movement the second.
    fn felt(&self, last: &Session<'_>) -> Option<Call> {
        if let Some(call) = self.felt_elsewhere(last) {
            return Some(call);
        }
        // Where it is for that very muscle, it was felt where it should be.
        let meant = |sign: Observation| self.question.intent.regions.keys().any(|region| is_of(sign, *region));
        let first = |sign: &Observation| last.saw(*sign) > 0 && !meant(*sign);
        if let Some(sign) = [FeltInTriceps, FeltInFrontShoulder].into_iter().find(first) {
            let again = self.sessions.iter().rev().take(2).filter(|s| s.saw(sign) > 0).count() >= 2;
            let seen = Seen::FeltFirst { sign, again };
            return Some(if again { self.swap(vec![Reason::Seen(seen)]) } else { self.hold(seen) });
        }
        (last.saw(ForearmTips) > 0).then(|| self.hold(Seen::ForearmsTip))
    }

    /// A band that is too easy early is stretched further; one that is slack is brought to pull from the first degree.
    fn band(&self, last: &Session<'_>) -> Option<Call> {
        if last.saw(BandSlack) > 0 {
            return Some(self.hold(Seen::BandSlack));
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
        Some(self.call(CallKind::AddLoad, Some(up), vec![Reason::Seen(Seen::BandTooEasy(self.label(up)))]))
    }

    /// How the last repetitions went, where it says more than their number.
    fn effort(&self, last: &Session<'_>) -> Option<Call> {
        let most = |seen| last.saw(seen) * 2 > last.sets.len();
        if last.saw(Impossible) > 0 {
            let below = last.below_bottom();
            let seen = Seen::Impossible { below };
            return Some(if below { self.ease(seen) } else { self.hold(seen) });
        }
        if most(Hard) && !last.below_bottom() {
            return Some(self.hold(Seen::Hard));
        }
        if most(Easy) && !last.below_bottom() && !last.at_top() {
            let easy = || Reason::Went(Went::Easy(last.told()));
            let more = || Some(self.call(CallKind::AddReps, self.at, vec![easy(), Reason::Next(Next::TwoMore)]));
            return self.risen_by_estimate(last, easy()).or_else(more);
        }
        None
    }

    /// Lowering speed and shaking straps.
    fn pace(&self, last: &Session<'_>) -> Option<Call> {
        if last.saw(SpeedLost) > 0 {
            return Some(self.hold(Seen::SpeedLost));
        }
        if last.saw(RingsShook) > 0 && self.sessions.len() >= USED_TO_RINGS {
            return Some(self.hold(Seen::StrapsShake));
        }
        None
    }

    /// What is said beside whatever is called: sides that differ, a variant that fits.
    pub(super) fn beside(last: &Session<'_>) -> Option<Reason> {
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
                let weaker = if left < right { Side::Left } else { Side::Right };
                return Some(Reason::Beside(Beside::SideGap { weaker: Some((weaker, gap)) }));
            }
        }
        if last.saw(SideGap) > 0 {
            return Some(Reason::Beside(Beside::SideGap { weaker: None }));
        }
        (last.saw(FeltOnTarget) > 0).then_some(Reason::Beside(Beside::OnTarget))
    }
}

/// Whether a sign tells of a region.
const fn is_of(sign: Observation, region: Region) -> bool {
    match sign {
        FeltInTriceps => matches!(region, Region::TricepsLong | Region::TricepsLateral | Region::TricepsMedial),
        FeltInFrontShoulder => matches!(region, Region::DeltFront),
        _ => false,
    }
}
