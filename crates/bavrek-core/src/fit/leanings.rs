//! Where schools differ, and what a trainer has decided for himself: one choice per dispute, kept.

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::movement::Movement;

vocabulary!(
    /// Where a fly with weights ends.
    FlyEnd {
        Bench => "bench", "past the bench";
        Floor => "floor", "at the floor";
    }
);

vocabulary!(
    /// Whether weights are pushed into each other in a press.
    Squeeze {
        Plain => "plain", "pressed apart";
        Together => "together", "pressed together";
    }
);

/// What a trainer has decided where schools differ; where nothing was decided the plain bench version leads.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Leanings {
    /// Where a fly ends.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fly_end: Option<FlyEnd>,
    /// How weights are pressed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub squeeze: Option<Squeeze>,
}

/// A dispute as it is put to a trainer: its field, and each side with what it says.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Dispute {
    /// Field of the form.
    pub field: &'static str,
    /// What is asked.
    pub question: &'static str,
    /// Identifier of each side, its words, and what it says for itself.
    pub sides: [(&'static str, &'static str, &'static str); 2],
}

/// The disputes that can be decided.
pub const DISPUTES: [Dispute; 2] = [
    Dispute {
        field: "fly_end",
        question: "Where does a fly with dumbbells end?",
        sides: [
            ("bench", "past the bench", "The chest is loaded where it is longest, and that is what a fly is for."),
            (
                "floor",
                "at the floor",
                "The floor ends it before the shoulder has to, and more weight can be used safely.",
            ),
        ],
    },
    Dispute {
        field: "squeeze",
        question: "Are dumbbells pushed into each other in a press?",
        sides: [
            ("plain", "no, pressed apart", "What counts is load through a long path; squeezing cannot be measured."),
            (
                "together",
                "yes, pressed together",
                "The constant squeeze is felt in the inner chest from bottom to top.",
            ),
        ],
    },
];

impl Leanings {
    /// Nothing decided.
    pub const NONE: Self = Self { fly_end: None, squeeze: None };

    /// The side taken in a dispute.
    pub fn side(self, field: &str) -> Option<&'static str> {
        match field {
            "fly_end" => self.fly_end.map(FlyEnd::id),
            "squeeze" => self.squeeze.map(Squeeze::id),
            _ => None,
        }
    }

    /// The movements that a decision puts before a movement, and those that no longer stand before it.
    pub(super) fn on(self, movement: &Movement) -> Told {
        let mut told = Told::default();
        if let Some(end) = self.fly_end {
            told.decide(movement, FLIES, end == FlyEnd::Floor);
        }
        if let Some(squeeze) = self.squeeze {
            for pair in PRESSES {
                told.decide(movement, pair, squeeze == Squeeze::Together);
            }
        }
        told
    }
}

/// Past the bench, at the floor.
const FLIES: [&str; 2] = ["dumbbell_bench_fly", "dumbbell_floor_fly"];
/// Plain and pressed together, on the bench, on the floor and on an incline.
const PRESSES: [[&str; 2]; 3] = [
    ["dumbbell_bench_press", "pressed_together_bench_press"],
    ["dumbbell_floor_press", "pressed_together_floor_press"],
    ["incline_dumbbell_press", "incline_pressed_together"],
];

/// What a decision says about one movement.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub(super) struct Told {
    /// The movement that leads it.
    pub(super) behind: Option<&'static str>,
    /// The movement that it need not yield to.
    pub(super) before: Option<&'static str>,
}

impl Told {
    fn decide(&mut self, movement: &Movement, [usual, other]: [&'static str; 2], other_leads: bool) {
        let (leads, follows) = if other_leads { (other, usual) } else { (usual, other) };
        if movement.id == follows {
            self.behind = Some(leads);
        } else if movement.id == leads {
            self.before = Some(follows);
        }
    }
}
