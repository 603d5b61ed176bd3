//! The computation of Bavrek: no input, no output, no clock, no randomness of its own.
//!
//! A place's kit becomes a [ladder](ladder::Ladder) of reachable difficulties for a movement; an
//! [intent](plan::Intent) becomes ranked [fits](fit::fit); logged sets become [strength](strength::Ledger) and the
//! next [call](progress::next). A guided tour:
//!
//! ```
//! use bavrek_core::kit::{Dumbbells, KitItem};
//! use bavrek_core::ladder::{Ground, Ladder, Landing, bridges};
//! use bavrek_core::person::{Experience, Person};
//! use bavrek_core::units::{Kilograms, MassUnit, Metres};
//! # use bavrek_core::anatomy::*;
//! # use bavrek_core::movement::*;
//! # let curl = Movement {
//! #     id: "dumbbell_curl".into(), name: "Standing dumbbell curl".into(), synonyms: vec![],
//! #     pattern: Pattern::ElbowFlexion, arm_position: ArmPosition::AtSide, grip: None,
//! #     implements: vec![Implement::Dumbbell], hands: Hands::Each, heaviest_kg: None,
//! #     direct: [(Region::BicepsLong, 1.0)].into(), assisting: [].into(), confidence: 1.0, disputed: None,
//! #     name_note: None, views: None, pose: Pose::default(), style: Style::Reps, change_s: 10,
//! #     rig: RigModel::SingleJoint {
//! #         action: bavrek_core::mechanics::single_joint::JointAction::Curl,
//! #         upper_arm_deg: 0.0, range: None, floor: false, mount: None,
//! #     },
//! #     needs: vec![], carry_over: CarryOver { pattern: "curl".into(), ratio: 1.0, log_sd: 0.0, basis: 1.0 },
//! #     experience: Experience::Novice, stability: 0.9, set_up_s: 10, limits: vec![], drop: vec![], variant_of: None,
//! #     yields_to: vec![], cautions: vec![],
//! #     easier: None, harder: None,
//! #     cues: Cues { set_up: String::new(), action: String::new(), feel: String::new(), avoid: String::new(),
//! #         breathing: String::new(), range: String::new() },
//! # };
//! let person = Person {
//!     body_mass_kg: Kilograms(71.0),
//!     height_m: Metres(1.75),
//!     experience: Experience::Novice,
//!     age_years: None,
//!     sex: None,
//!     limits: vec![],
//! };
//! let kit = [KitItem::Dumbbells(Dumbbells { unit: MassUnit::Kg, pairs: vec![5.0, 8.0, 12.0], singles: vec![20.0], heads: None })];
//!
//! // Kit in, ladder out: the single 20 does not serve a curl with one in each hand.
//! let ladder = Ladder::of(&curl, &person, &kit);
//! let loads: Vec<f64> = ladder.steps.iter().map(|s| s.effective_kg.value()).collect();
//! assert_eq!(loads, [5.0, 8.0, 12.0]);
//!
//! // 8 to 12 kg is a jump of half: it needs a bridge.
//! let ground = Ground { movement: &curl, person: &person, kit: &kit };
//! let gaps = bridges(&ladder, &ground, Some(Kilograms(8.0)), Landing { reps: 8, rir: 2 });
//! assert_eq!((gaps[0].from, gaps[0].to), (1, 2));
//! ```

pub mod across;
pub mod aims;
pub mod anatomy;
pub mod arrangement;
pub mod between;
pub mod calendar;
pub mod clock;
pub mod contact;
pub mod dose;
pub mod evaluate;
pub mod example;
pub mod execution;
pub mod feasibility;
pub mod figure;
pub mod fit;
pub mod handling;
pub mod holds;
pub mod kit;
pub mod ladder;
pub mod log;
pub mod measures;
pub mod mechanics;
pub mod method;
pub mod movement;
pub mod notes;
pub mod person;
pub mod plan;
pub mod posture;
pub mod progress;
pub mod purchase;
pub mod quantity;
pub mod ranges;
pub mod reading;
pub mod reference;
pub mod reminding;
pub mod reps;
pub mod review;
pub mod rigging;
pub mod safety;
pub mod school;
pub mod screening;
pub mod script;
pub mod set_ups;
pub mod shorten;
pub mod spare;
pub mod spot;
pub mod stepped;
pub mod strength;
pub mod template;
pub mod units;
pub mod volume;
pub mod warm_up;
pub mod week;
pub mod wording;
