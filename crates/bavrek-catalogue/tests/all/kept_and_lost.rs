//! What is said to be kept and lost of a job, what is cautioned and what is ruled out for its load: said where it holds, and only there.

use crate::common::asked::CATALOGUE;
use crate::common::{grid, kit, limited, person};
use bavrek_core::dose::Dose;
use bavrek_core::fit::Bearing;
use bavrek_core::fit::{
    Basis, Candidate, Care, ExclusionCode, FitAnswer, FitQuestion, Kept, Lost, Reason, bearing, fit,
};
use bavrek_core::kit::full_room;
use bavrek_core::mechanics::profile::share_distance;
use bavrek_core::movement::{Movement, Style};
use bavrek_core::person::Person;
use bavrek_core::plan::{Intent, Sides};
use bavrek_core::reference::{Named, Reference};
use bavrek_core::reps;
use bavrek_core::strength::Ledger;

/// Every candidate for the jobs of the grid in its rooms, and for every fifth movement's own job as it is and to failure.
fn over_all(mut check: impl FnMut(&Person, &Intent, &FitAnswer<'_>, &Candidate<'_>)) {
    let mut ask = |person: &Person, room: &[bavrek_core::kit::KitItem], job: &Intent| {
        let answer = fit(&CATALOGUE, &FitQuestion::plain(person, room, job));
        answer.candidates.iter().for_each(|c| check(person, job, &answer, c));
    };
    let who = person();
    for (_, room) in grid::kits() {
        for (_, job) in grid::intents() {
            ask(&who, &room, &job);
        }
    }
    for movement in CATALOGUE.movements.iter().step_by(5) {
        let job = Named::Movement(movement).intent(&who, &Dose::USUAL);
        ask(&who, &full_room(), &job);
        ask(
            &who,
            &kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[14]},{"kind":"bench","angles_deg":[0,30]}]"#),
            &job,
        );
        ask(&who, &full_room(), &Intent { dose: Dose { rir: 0, ..Dose::USUAL }, sides: Some(Sides::Both), ..job });
    }
}

/// How often each of sixteen things was not said and said.
#[derive(Default)]
struct Counts([[usize; 2]; 16]);

impl Counts {
    fn agree(&mut self, what: usize, said: bool, holds: bool, of: &Movement) {
        assert_eq!(said, holds, "{what}: {}", of.id);
        self.0[what][usize::from(said)] += 1;
    }
}

#[test]
fn what_is_kept_and_lost_is_said_where_it_holds() {
    let mut counts = Counts::default();
    over_all(|_, job, answer, c| {
        let (m, start) = (c.movement, &c.start);
        let kept = |what: Kept| c.kept.contains(&what);
        let lost = |what: Lost| c.lost.contains(&what);
        for region in job.regions.keys() {
            let [direct, assists] = [m.direct.contains_key(region), m.assisting.contains_key(region)];
            counts.agree(0, kept(Kept::Direct(*region)), direct, m);
            counts.agree(1, lost(Lost::OnlyAssists(*region)), !direct && assists, m);
            counts.agree(2, lost(Lost::NotWorked(*region)), !direct && !assists, m);
        }
        counts.agree(3, kept(Kept::Pattern(job.pattern)), m.pattern == job.pattern, m);
        let other = Lost::OtherPattern { is: m.pattern, asked: job.pattern };
        counts.agree(4, lost(other), m.pattern != job.pattern, m);
        counts.agree(5, kept(Kept::Arm(m.arm_position)), job.arm_position == Some(m.arm_position), m);
        let otherwise = job.arm_position.is_some_and(|arm| arm != m.arm_position);
        counts.agree(6, lost(Lost::OtherArm(m.arm_position)), otherwise, m);
        let counted = m.style != Style::Hold;
        counts.agree(7, lost(Lost::TooLight), counted && start.reps > 40.0, m);
        counts.agree(8, lost(Lost::OutOfReach), counted && start.reps < 2.0, m);
        counts.agree(9, lost(Lost::NothingHeavier), start.step + 1 == c.ladder.steps.len(), m);
        let style = answer.reference.as_ref().map_or(Style::Reps, |r| r.style);
        counts.agree(10, lost(Lost::OtherStyle { is: m.style, asked: style }), m.style != style, m);
        let one = job.sides == Some(Sides::One);
        counts.agree(11, kept(Kept::OneSide), one && m.unilateral(), m);
        counts.agree(12, lost(Lost::BothSides), one && !m.unilateral(), m);
        counts.agree(13, lost(Lost::TwiceTheTime), !one && m.unilateral(), m);
        counts.agree(14, lost(Lost::Unsteady), job.dose.rir == 0 && m.stability < 0.7, m);
        let tags = answer.reference.as_ref().and_then(|r| r.tag).zip(tag(m));
        counts.agree(15, lost(Lost::LessStretched), tags.is_some_and(|(wanted, own)| wanted > own), m);
    });
    for (what, [unsaid, said]) in counts.0.iter().enumerate() {
        assert!(*unsaid > 0 && *said > 0, "{what}: said {said} times and not {unsaid}");
    }
}

fn tag(movement: &Movement) -> Option<i8> {
    Reference::of(Named::Movement(movement), &person()).and_then(|r| r.tag)
}

/// One word on the part of the length: the same, nearly the same where nothing of it is lost, or what of which end is lost.
#[test]
fn the_part_of_the_length_is_said_once() {
    let (mut same, mut nearly, mut lengthened, mut shortened) = (0, 0, 0, 0);
    over_all(|_, job, answer, c| {
        let Some(wanted) =
            answer.reference.as_ref().filter(|_| job.length_emphasis.is_none() || job.arm_position.is_some())
        else {
            return;
        };
        if job.length_emphasis.is_some()
            && job.length_emphasis != bavrek_core::mechanics::profile::emphasis(&wanted.thirds)
        {
            return;
        }
        let (own, wanted) = (c.step().thirds, wanted.thirds);
        let distance = share_distance(&own, &wanted);
        let less = [0, 2].map(|third| distance > 0.12 && wanted[third] - own[third] > [0.08, 0.0, 0.12][third]);
        let said = |of: fn(&Lost) -> bool| c.lost.iter().any(of);
        assert_eq!(said(|lost| matches!(lost, Lost::LessLengthened { .. })), less[0], "{}", c.movement.id);
        assert_eq!(said(|lost| matches!(lost, Lost::LessShortened { .. })), less[1], "{}", c.movement.id);
        let kept = c.kept.iter().find_map(|kept| match kept {
            Kept::Length { lengthened, nearly } => Some((*lengthened, *nearly)),
            _ => None,
        });
        let expected = if distance <= 0.12 {
            Some((own[0], false))
        } else {
            (distance <= 0.25 && less == [false, false]).then_some((own[0], true))
        };
        assert_eq!(kept, expected, "{}", c.movement.id);
        same += usize::from(kept.is_some_and(|(_, nearly)| !nearly));
        nearly += usize::from(kept.is_some_and(|(_, nearly)| nearly));
        lengthened += usize::from(less[0]);
        shortened += usize::from(less[1]);
    });
    let all = [same, nearly, lengthened, shortened];
    assert!(all.iter().all(|n| *n > 5), "{all:?}");
}

/// A first day is a test day, of what is counted and not resisted by whoever does it; growth is told of what has a ladder.
#[test]
fn a_first_day_is_a_test_day() {
    let (mut tests, mut resisted, mut weights, mut others) = (0, 0, 0, 0);
    over_all(|_, _, _, c| {
        let by_hand = c.start.basis == Basis::Resisted;
        let said = |of: fn(&Reason) -> bool| c.reasons.iter().any(of);
        let counted = c.movement.style != Style::Hold;
        assert_eq!(said(|r| matches!(r, Reason::TestSet { .. })), counted && !by_hand, "{}", c.movement.id);
        assert_eq!(said(|r| matches!(r, Reason::RoomToGrow { .. })), !by_hand, "{}", c.movement.id);
        assert_eq!(said(|r| matches!(r, Reason::Resisted { .. })), by_hand && counted, "{}", c.movement.id);
        tests += usize::from(counted && !by_hand);
        resisted += usize::from(by_hand);
        for reason in &c.reasons {
            let Reason::LightestAbove { weight, .. } = reason else { continue };
            assert_eq!(*weight, c.movement.is_weighed() && !c.movement.rig.is_lever(), "{}", c.movement.id);
            weights += usize::from(*weight);
            others += usize::from(!*weight);
        }
    });
    let all = [tests, resisted, weights, others];
    assert!(all.iter().all(|n| *n > 0), "{all:?}");
}

/// Once it was done it is no test any more.
#[test]
fn what_was_done_is_no_test() {
    let known = crate::common::asked::curls("2026-03-02", 10.0, &[10, 10, 10], 2);
    let (who, room) = (person(), full_room());
    let job = Named::Movement(CATALOGUE.movement("dumbbell_curl").unwrap()).intent(&who, &Dose::USUAL);
    let answer = fit(&CATALOGUE, &FitQuestion { history: &known, ..FitQuestion::plain(&who, &room, &job) });
    for c in &answer.candidates {
        let test = c.reasons.iter().any(|r| matches!(r, Reason::TestSet { .. }));
        let done = c.movement.id == "dumbbell_curl";
        assert_eq!(c.start.basis == Basis::ThisExercise, done);
        assert!(!(done && test), "{}", c.movement.id);
    }
}

/// Over all movements and limits of a shoulder: what the movement has no rule for is stopped at a sign, a joint short of range goes as far
/// as it does, and all else goes easy.
#[test]
fn what_a_limit_asks_for_is_said() {
    let mut said = [0; 3];
    for what in ["pain_loaded", "pain_overhead", "pain_deep_stretch", "stiff"] {
        for severity in ["mild", "moderate", "severe"] {
            let who =
                limited(&format!(r#"{{"joint":"shoulder","what":"{what}","side":"both","severity":"{severity}"}}"#));
            let limit = who.limits[0];
            for movement in CATALOGUE.movements.iter().step_by(3) {
                let job = Named::Movement(movement).intent(&who, &Dose::USUAL);
                let answer = fit(&CATALOGUE, &FitQuestion::plain(&who, &full_room(), &job));
                for c in answer.candidates.iter().filter(|c| c.movement.id == movement.id) {
                    let told = c.reasons.iter().find_map(|r| match r {
                        Reason::Limited { care, .. } => Some(*care),
                        _ => None,
                    });
                    let eases = bearing(movement, &limit) != Bearing::Free;
                    let ruled = movement.rule(limit.joint, limit.what).is_some();
                    let expected = match (eases, ruled, limit.what.is_of_range()) {
                        (false, ..) => None,
                        (true, false, _) => Some(Care::StopAtASign),
                        (true, true, true) => Some(Care::AsFarAsItGoes),
                        (true, true, false) => Some(Care::GoEasy),
                    };
                    assert_eq!(told, expected, "{} for {what}, {severity}", movement.id);
                    for (n, care) in [Care::StopAtASign, Care::AsFarAsItGoes, Care::GoEasy].into_iter().enumerate() {
                        said[n] += usize::from(told == Some(care));
                    }
                }
            }
        }
    }
    assert!(said.iter().all(|n| *n > 3), "{said:?}");
}

/// Over all movements whose arm weighs nothing beside the load: ruled out as too heavy where not even one SD stronger would do two
/// repetitions on the lightest step, as too light where one SD weaker would do more than sixty on the heaviest, and only then.
#[test]
fn nobody_is_ruled_out_for_being_unknown() {
    let who = person();
    let (mut in_reach, mut heavy, mut light) = (0, 0, 0);
    for pairs in ["[1]", "[2,3]", "[6]", "[14]", "[24,26]", "[40]", "[60]"] {
        let room = kit(&format!(
            r#"[{{"kind":"dumbbells","unit":"kg","pairs":{pairs}}},{{"kind":"bench","angles_deg":[0,30,75]}}]"#
        ));
        let ledger = Ledger::replay(&CATALOGUE, &who, &[], None);
        for movement in
            CATALOGUE.movements.iter().filter(|m| m.is_weighed() && !m.rig.is_lever() && m.style != Style::Hold)
        {
            if movement.rig.own_arm(who.body_mass_kg).value() > 0.0 {
                continue;
            }
            let job = Named::Movement(movement).intent(&who, &Dose::USUAL);
            let answer = fit(&CATALOGUE, &FitQuestion::plain(&who, &room, &job));
            let ladder = bavrek_core::ladder::Ladder::of_line(movement, &who, &room, &job);
            let loads = || ladder.steps.iter().filter(|s| s.load.is_some()).map(|s| s.effective_kg.value());
            let (lightest, heaviest) = (loads().fold(f64::MAX, f64::min), loads().fold(0.0, f64::max));
            if heaviest == 0.0 {
                continue;
            }
            let known = ledger.predict(movement);
            // Twelve to failure on the load that is known; repetitions plus nine go with strength to the power of 1/p. Two stay in reserve.
            let reps =
                |sds: f64, load: f64| 21.0 * ((known.mean + sds * known.sd - load.ln()) / reps::P).exp() - 9.0 - 2.0;
            let code = answer.excluded.iter().find(|e| e.movement.id == movement.id).map(|e| e.why[0].code());
            let expected = if reps(1.0, lightest) < 2.0 {
                Some(ExclusionCode::OutOfReach)
            } else if reps(-1.0, heaviest) > 60.0 {
                Some(ExclusionCode::TooLight)
            } else {
                None
            };
            // What is nearly out of reach is no job to begin with, where it is all there is.
            let alone = reps(0.0, lightest) < 2.0 && answer.candidates.is_empty();
            let expected = expected.or(alone.then_some(ExclusionCode::OutOfReach));
            assert_eq!(
                code,
                expected,
                "{} on {pairs}: {} to {}",
                movement.id,
                reps(-1.0, heaviest),
                reps(1.0, lightest)
            );
            match expected {
                None => in_reach += 1,
                Some(ExclusionCode::OutOfReach) => heavy += 1,
                Some(_) => light += 1,
            }
        }
    }
    assert!(in_reach > 100 && heavy > 20 && light > 20, "{in_reach} {heavy} {light}");
}
