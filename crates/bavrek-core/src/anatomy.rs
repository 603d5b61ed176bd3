//! What a plan can aim at: regions, patterns, arm positions and the other words of the field.

/// Declares an enum whose variants have a stable identifier (the serde name), identifiers of before that are still read, a
/// label for people, and a list of all.
macro_rules! vocabulary {
    ($(#[$doc:meta])* $name:ident { $($variant:ident => $id:literal $(| $old:literal)*, $label:literal;)+ }) => {
        $(#[$doc])*
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, ::serde::Serialize, ::serde::Deserialize)]
        #[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
        pub enum $name {
            $(
                #[doc = concat!($label, ".")]
                #[serde(rename = $id $(, alias = $old)*)]
                $variant,
            )+
        }

        impl $name {
            /// Every value, in the order of the field's lists.
            pub const ALL: &'static [Self] = &[$(Self::$variant),+];

            /// The identifier used in files and requests.
            pub const fn id(self) -> &'static str {
                match self { $(Self::$variant => $id),+ }
            }

            /// The words shown to people.
            pub const fn label(self) -> &'static str {
                match self { $(Self::$variant => $label),+ }
            }

            /// The value with this identifier.
            pub fn from_id(id: &str) -> Option<Self> {
                match id { $($id $(| $old)* => Some(Self::$variant),)+ _ => None }
            }
        }

        impl std::fmt::Display for $name {
            fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
                f.write_str(self.label())
            }
        }
    };
}
pub(crate) use vocabulary;

vocabulary!(
    /// A muscle or a head of it that a plan can aim at.
    Region {
        ChestClavicular => "chest_clavicular", "upper chest";
        ChestSternal => "chest_sternal", "middle chest";
        ChestCostal => "chest_costal", "lower chest";
        PecMinor => "pec_minor", "pectoralis minor";
        Serratus => "serratus", "serratus anterior";
        DeltFront => "delt_front", "front shoulder";
        DeltSide => "delt_side", "side shoulder";
        DeltRear => "delt_rear", "rear shoulder";
        RotatorCuff => "rotator_cuff", "rotator cuff";
        Lats => "lats", "lats";
        TrapsUpper => "traps_upper", "upper trapezius";
        TrapsMiddle => "traps_middle", "middle trapezius and rhomboids";
        TrapsLower => "traps_lower", "lower trapezius";
        BicepsLong => "biceps_long", "biceps, long head";
        BicepsShort => "biceps_short", "biceps, short head";
        Brachialis => "brachialis", "brachialis";
        Brachioradialis => "brachioradialis", "brachioradialis";
        TricepsLong => "triceps_long", "triceps, long head";
        TricepsLateral => "triceps_lateral", "triceps, lateral head";
        TricepsMedial => "triceps_medial", "triceps, medial head";
        ForearmFlexors => "forearm_flexors", "forearm flexors";
        ForearmExtensors => "forearm_extensors", "forearm extensors";
        TrunkFront => "trunk_front", "abdominals";
        TrunkBack => "trunk_back", "trunk side and back";
    }
);

/// A muscle of which several regions are heads or parts.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Muscle {
    Chest,
    Deltoid,
    Trapezius,
    Biceps,
    Triceps,
}

impl Region {
    const fn muscle(self) -> Option<Muscle> {
        match self {
            Self::ChestClavicular | Self::ChestSternal | Self::ChestCostal => Some(Muscle::Chest),
            Self::DeltFront | Self::DeltSide | Self::DeltRear => Some(Muscle::Deltoid),
            Self::TrapsUpper | Self::TrapsMiddle | Self::TrapsLower => Some(Muscle::Trapezius),
            Self::BicepsLong | Self::BicepsShort => Some(Muscle::Biceps),
            Self::TricepsLong | Self::TricepsLateral | Self::TricepsMedial => Some(Muscle::Triceps),
            _ => None,
        }
    }

    /// Whether two regions are heads or parts of one muscle.
    pub fn same_muscle(self, other: Self) -> bool {
        self.muscle().is_some() && self.muscle() == other.muscle()
    }

    /// Where the upper arm must be for this head alone to lead; empty where it does not matter.
    pub const fn arms_that_favour(self) -> &'static [ArmPosition] {
        match self {
            Self::BicepsShort => &[ArmPosition::InFront, ArmPosition::OutToSide],
            Self::BicepsLong => &[ArmPosition::Behind],
            Self::TricepsLong => &[ArmPosition::Overhead, ArmPosition::Behind],
            _ => &[],
        }
    }
}

vocabulary!(
    /// A movement class: what the joints do and from where the resistance comes.
    Pattern {
        HorizontalPress => "horizontal_press", "horizontal press";
        InclinePress => "incline_press", "incline press";
        DeclinePress => "decline_press", "decline press and dip";
        Fly => "fly", "fly";
        FlyLowToHigh => "fly_low_to_high", "fly, low to high";
        FlyHighToLow => "fly_high_to_low", "fly, high to low";
        Pullover => "pullover", "pullover";
        OverheadPress => "overhead_press", "overhead press";
        SideRaise => "side_raise", "side raise";
        FrontRaise => "front_raise", "front raise";
        RearFly => "rear_fly", "rear fly";
        VerticalPull => "vertical_pull", "vertical pull";
        WideRow => "wide_row", "wide row";
        CloseRow => "close_row", "close row";
        Shrug => "shrug", "shrug";
        ElbowFlexion => "elbow_flexion", "elbow flexion";
        ElbowExtension => "elbow_extension", "elbow extension";
        Forearm => "forearm", "forearm";
        Trunk => "trunk", "trunk";
    }
);

vocabulary!(
    /// Where the upper arm is relative to the trunk.
    ArmPosition {
        InFront => "in_front", "in front";
        AtSide => "at_side", "at the side";
        Behind => "behind", "behind the body";
        Overhead => "overhead", "overhead";
        OutToSide => "out_to_side", "out to the side";
    }
);

vocabulary!(
    /// How the palm is turned.
    Grip {
        Supinated => "supinated", "palm up";
        Neutral => "neutral", "neutral";
        Pronated => "pronated", "palm down";
    }
);

vocabulary!(
    /// Where in the working muscle's range the external moment is greatest.
    LengthEmphasis {
        Lengthened => "lengthened", "lengthened";
        Middle => "middle", "middle of the range";
        Shortened => "shortened", "shortened";
    }
);

vocabulary!(
    /// What carries the load.
    Implement {
        Dumbbell => "dumbbell", "dumbbell";
        LoopBand => "loop_band", "loop band";
        TubeBand => "tube_band", "tube band";
        Rings => "rings", "rings";
        Bar => "bar", "bar";
        Bodyweight => "bodyweight", "bodyweight";
        Backpack => "backpack", "backpack";
        Towel => "towel", "towel";
        Kettlebell => "kettlebell", "kettlebell";
        Barbell => "barbell", "barbell";
    }
);

vocabulary!(
    /// A joint that a limit can concern.
    Joint {
        Shoulder => "shoulder", "shoulder";
        Elbow => "elbow", "elbow";
        Wrist => "wrist", "wrist";
        Neck => "neck", "neck";
        LowBack => "low_back", "low back";
        Hip => "hip", "hip";
        Knee => "knee", "knee";
        Fingers => "fingers", "fingers and thumb";
    }
);

vocabulary!(
    /// What the body rests on or hangs from.
    Surface {
        Floor => "floor", "on the floor";
        Bench => "bench", "on the bench";
        Chair => "chair", "chair";
        Box => "box", "box";
        Sofa => "sofa", "sofa";
        Table => "table", "table";
        Standing => "standing", "standing";
        Kneeling => "kneeling", "kneeling";
        Bar => "bar", "on the bar";
        Rings => "rings", "rings";
        Parallettes => "parallettes", "parallettes";
        Dumbbells => "dumbbells", "on dumbbells";
    }
);
