//! Computing for which nobody waits.

use std::thread;

use tokio::sync::oneshot;

use crate::error::WebError;

/// Computes something on a thread of its own, behind everything else that wants the processor. The thread ends with the work: what it
/// took of memory is given back, where a thread that waits for its next work would keep it. What panics has failed.
pub(crate) async fn idly<T: Send + 'static>(work: impl FnOnce() -> T + Send + 'static) -> Result<T, WebError> {
    let (done, told) = oneshot::channel();
    let begun = thread::Builder::new().name("idly".into()).spawn(move || {
        step_back();
        // Whoever asked may have gone meanwhile.
        let _ = done.send(work());
    });
    begun.map_err(|error| {
        tracing::warn!(%error, "no thread for what nobody waits for");
        WebError::Failed
    })?;
    told.await.map_err(|_| WebError::Failed)
}

/// Gives this thread the processor only while nothing else wants it: whatever else wakes takes it at once, where the lowest priority
/// among equals would finish its turn of some milliseconds first.
#[cfg(target_os = "linux")]
fn step_back() {
    use thread_priority::{
        NormalThreadSchedulePolicy::Idle, ThreadPriority, ThreadSchedulePolicy, set_thread_priority_and_policy,
        thread_native_id,
    };

    // Where it may not be changed the work goes on as it is.
    let idle = ThreadSchedulePolicy::Normal(Idle);
    if let Err(error) = set_thread_priority_and_policy(thread_native_id(), ThreadPriority::Min, idle) {
        tracing::warn!(?error, "what nobody waits for runs beside what is waited for");
    }
}

/// Elsewhere the priority is the whole process's, which stays as it is.
#[cfg(not(target_os = "linux"))]
fn step_back() {}

#[cfg(test)]
mod tests {
    use super::*;

    #[tokio::test]
    async fn what_nobody_waits_for_is_done_and_what_panics_has_failed() {
        assert_eq!(idly(|| 6 * 7).await.ok(), Some(42));
        assert!(matches!(idly(|| panic!("on purpose")).await, Err::<(), _>(WebError::Failed)));
        assert_eq!(idly(|| 1).await.ok(), Some(1), "the next is done as before");
    }

    #[cfg(target_os = "linux")]
    #[tokio::test]
    async fn it_stands_behind_all_else_and_leaves_other_threads_as_they_were() {
        use thread_priority::NormalThreadSchedulePolicy::{Idle, Other};
        use thread_priority::{ThreadSchedulePolicy, thread_schedule_policy};

        let own = || thread_schedule_policy().ok();
        assert_eq!(idly(own).await.ok(), Some(Some(ThreadSchedulePolicy::Normal(Idle))));
        assert_eq!(own(), Some(ThreadSchedulePolicy::Normal(Other)));
    }
}
