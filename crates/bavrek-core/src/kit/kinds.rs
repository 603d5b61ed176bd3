//! The kinds of kit, each described once: what it is called, what is told of it, and one of a usual size. Files, forms, what a tap
//! adds and what is refused follow from it.

use serde::{Deserialize, Serialize};

use super::anchor::Anchor;
use super::band::{LoopBand, TubeBand};
use super::pieces::{AdjustableDumbbell, Backpack, Bench, Boxes, Dumbbells, Plain, PullUpBar, Rings, Step, Table};
use super::told::{self, Measure};
use super::weights::{Barbell, Kettlebells, PlateDumbbell};
use crate::units::{Kilograms, Metres};

/// A kind of kit.
#[derive(Debug, Clone, Copy)]
pub struct Kind {
    /// Its identifier, as in files.
    pub id: &'static str,
    /// Its words in a list of what there can be.
    pub label: &'static str,
    /// One of a usual size; none for what differs from room to room in what it weighs.
    pub usual: Option<Usual>,
    /// What is told of it.
    pub measures: &'static [Measure],
}

/// One of a usual size, which can be put up at once.
#[derive(Debug, Clone, Copy)]
pub struct Usual {
    /// Its words where there is little room.
    pub short: &'static str,
    /// Makes it.
    pub piece: fn() -> KitItem,
}

macro_rules! kinds {
    ($($(#[$doc:meta])* $variant:ident($of:ty) $id:literal, $label:literal, $(usual $short:literal $usual:expr,)? [$($told:ident),*];)+) => {
        /// One typed piece of kit.
        #[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
        #[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
        #[serde(tag = "kind")]
        pub enum KitItem {
            $($(#[$doc])* #[serde(rename = $id)] $variant($of),)+
        }

        impl Kind {
            /// Every kind, in the order of lists.
            pub const ALL: &'static [Self] = &[$(kinds!(@kind $variant $id $label [$($short $usual)?] [$($told),*])),+];
        }

        impl KitItem {
            /// What is said of its kind.
            pub const fn described(&self) -> &'static Kind {
                match self {
                    $(Self::$variant(_) => {
                        const { &kinds!(@kind $variant $id $label [$($short $usual)?] [$($told),*]) }
                    }),+
                }
            }
        }
    };
    (@kind $variant:ident $id:literal $label:literal [$($short:literal $usual:expr)?] [$($told:ident),*]) => {
        Kind {
            id: $id,
            label: $label,
            usual: kinds!(@usual $variant $($short $usual)?),
            measures: &[$(told::$told),*],
        }
    };
    (@usual $variant:ident) => { None };
    (@usual $variant:ident $short:literal $usual:expr) => {
        Some(Usual { short: $short, piece: || KitItem::$variant($usual) })
    };
}

kinds! {
    /// Fixed dumbbells.
    Dumbbells(Dumbbells) "dumbbells", "Dumbbells", [UNIT, HEADS, PAIRS, SINGLES];
    /// One or two dumbbells with changeable plates.
    AdjustableDumbbell(AdjustableDumbbell) "adjustable_dumbbell", "Adjustable dumbbell",
        [UNIT, LIGHTEST, HEAVIEST, INCREMENT, ONE_OR_TWO];
    /// Dumbbell handles with the plates that go onto them.
    PlateDumbbell(PlateDumbbell) "plate_dumbbell", "Dumbbell handle with plates", [UNIT, HANDLE, PLATES, ONE_OR_TWO];
    /// Kettlebells.
    Kettlebells(Kettlebells) "kettlebells", "Kettlebells", [UNIT, PAIRS, SINGLES];
    /// A barbell with its plates.
    Barbell(Barbell) "barbell", "Barbell with plates", [UNIT, BAR, PLATES];
    /// A closed flat loop.
    LoopBand(LoopBand) "loop_band", "Loop band", [LABEL, FLAT_LENGTH, WIDTH, THICKNESS, RATED_FROM, RATED_TO, COUNT];
    /// A tube with two handles.
    TubeBand(TubeBand) "tube_band", "Tube band", [LABEL, REST_LENGTH, RATED_FROM, RATED_TO, COUNT];
    /// A point that holds a band.
    Anchor(Anchor) "anchor", "Band anchor",
        usual "anchor" Anchor { heights_m: vec![1.2], ..Anchor::default() }, [HEIGHTS, IN_DOOR, ANCHORED_ON, WEIGHT];
    /// A pair of rings on straps.
    Rings(Rings) "rings", "Rings", usual "rings" Rings { max_height_m: Metres(2.0) }, [HIGHEST];
    /// A bar to hang from.
    PullUpBar(PullUpBar) "pull_up_bar", "Pull-up bar", usual "bar" PullUpBar { height_m: Metres(2.2) }, [BAR_HEIGHT];
    /// Parallel bars.
    DipBars(Plain) "dip_bars", "Dip bars", usual "dip bars" Plain {}, [];
    /// A rack or stands with arms that catch a bar.
    Rack(Plain) "rack", "Rack that catches a bar", usual "rack for a bar" Plain {}, [];
    /// A bench.
    Bench(Bench) "bench", "Bench",
        usual "bench" Bench { angles_deg: vec![0.0, 30.0, 45.0], height_m: None, count: None },
        [ANGLES, SEAT, COUNT_OR_ONE];
    /// Sturdy boxes of one height.
    Box(Boxes) "box", "Box", usual "box" Boxes { height_m: Metres(0.45), count: 1 }, [TOP, COUNT];
    /// A step or stair.
    Step(Step) "step", "Step", usual "step" Step { height_m: Metres(0.2) }, [TOP];
    /// A sturdy chair.
    Chair(Plain) "chair", "Sturdy chair", usual "chair" Plain {}, [];
    /// A sofa.
    Sofa(Plain) "sofa", "Sofa", usual "sofa" Plain {}, [];
    /// A sturdy table whose edge can be held.
    Table(Table) "table", "Heavy table", usual "table" Table { height_m: Metres(0.74) }, [TOP];
    /// A towel to hold or to slide on.
    Towel(Plain) "towel", "Towel", usual "towel" Plain {}, [];
    /// A backpack to load.
    Backpack(Backpack) "backpack", "Backpack", usual "backpack" Backpack { max_kg: Kilograms(15.0) }, [CARRIES];
    /// Low handles for push-ups.
    Parallettes(Plain) "parallettes", "Push-up handles", usual "handles" Plain {}, [];
    /// A wheel for roll-outs.
    AbWheel(Plain) "ab_wheel", "Roll-out wheel", usual "wheel" Plain {}, [];
    /// A plate or book that tilts a bench.
    Wedge(Plain) "wedge", "Wedge", usual "wedge" Plain {}, [];
    /// Somebody who can lend their hands.
    Helper(Plain) "helper", "Helper", usual "helper" Plain {}, [];
}

impl Kind {
    /// The kind with this identifier.
    pub fn of(id: &str) -> Option<&'static Self> {
        Self::ALL.iter().find(|kind| kind.id == id)
    }

    /// What is told of it under this name in forms.
    pub fn measure(&self, name: &str) -> Option<&'static Measure> {
        self.measures.iter().find(|m| m.name == name)
    }
}

impl KitItem {
    /// The identifier of the kind, as in files.
    pub const fn kind(&self) -> &'static str {
        self.described().id
    }
}
