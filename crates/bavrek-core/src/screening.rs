//! Health screening: plain questions, and which answers call for a doctor or physiotherapist first. Nothing is
//! diagnosed, and an answer never changes a load.

use std::collections::BTreeMap;

use serde::Deserialize;

use crate::anatomy::vocabulary;

vocabulary!(
    /// Who should agree before training goes on.
    Referral {
        Doctor => "doctor", "doctor";
        Physiotherapist => "physiotherapist", "doctor or physiotherapist";
    }
);

/// A question that is answered with yes or no.
#[derive(Debug, Clone, PartialEq, Eq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Question {
    /// Identifier, kept with the answer.
    pub id: String,
    /// The question.
    pub text: String,
    /// Who should agree first where the answer is yes.
    pub refer: Referral,
}

/// Answers by question; a question that was not answered is not in it.
pub type Answers = BTreeMap<String, bool>;

/// The questions whose answers call for somebody's agreement first, in their order.
pub fn referrals<'a>(questions: &'a [Question], answers: &Answers) -> Vec<&'a Question> {
    questions.iter().filter(|q| answers.get(&q.id) == Some(&true)).collect()
}

/// Questions without an answer, in their order. A screening is complete only without any.
pub fn unanswered<'a>(questions: &'a [Question], answers: &Answers) -> Vec<&'a Question> {
    questions.iter().filter(|q| !answers.contains_key(&q.id)).collect()
}
