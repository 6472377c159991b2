//! Threads for parallel work: as many as there are processors, or as can be had.

use std::sync::{Arc, Mutex, Once, mpsc};

use rayon::{ThreadBuilder, ThreadPool, ThreadPoolBuilder};

/// More than this are of no use to anybody, whatever the environment says.
const MOST: usize = 256;

static PREPARED: Once = Once::new();

/// Sets up the threads that all commands share. Where the machine gives none, the work is done in this one.
pub fn prepare() {
    PREPARED.call_once(|| {
        let own = std::env::var("RAYON_NUM_THREADS").ok().and_then(|text| text.parse().ok());
        let count = own.filter(|count| *count > 0).unwrap_or_else(processors).min(MOST);
        let (give, take) = mpsc::channel::<ThreadBuilder>();
        let pool = match started(count, take) {
            0 => builder(1).use_current_thread().build_global(),
            had => builder(had)
                .spawn_handler(move |work| give.send(work).map_err(|_| std::io::Error::other("it has ended")))
                .build_global(),
        };
        // It fails only where a library's caller has set up threads of its own.
        drop(pool);
    });
}

/// Starts threads that wait for what they are to run, and says how many there are: the library would end the program
/// where it cannot have one that it asks for.
fn started(count: usize, take: mpsc::Receiver<ThreadBuilder>) -> usize {
    let take = Arc::new(Mutex::new(take));
    let one = |_: &usize| {
        let take = Arc::clone(&take);
        let work = move || {
            let own = take.lock().ok().and_then(|take| take.recv().ok());
            own.map(ThreadBuilder::run)
        };
        std::thread::Builder::new().spawn(work).is_ok()
    };
    (0..count).take_while(one).count()
}

/// A pool of that many threads; none where they cannot be had, so that the shared ones do the work.
pub fn pool(jobs: u16) -> Option<ThreadPool> {
    builder(usize::from(jobs).min(MOST)).build().ok()
}

fn builder(count: usize) -> ThreadPoolBuilder {
    ThreadPoolBuilder::new().num_threads(count)
}

fn processors() -> usize {
    std::thread::available_parallelism().map_or(1, usize::from)
}

#[cfg(test)]
mod tests {
    use super::*;
    use rayon::prelude::*;

    #[test]
    fn work_is_done_whether_or_not_there_are_threads() {
        prepare();
        prepare();
        assert_eq!((0..100).into_par_iter().sum::<usize>(), 4950);
        assert_eq!(pool(3).map(|pool| pool.current_num_threads()), Some(3));
        assert!(pool(1024).is_none_or(|pool| pool.current_num_threads() <= MOST));
    }

    #[test]
    fn without_threads_this_one_does_the_work() {
        let none = builder(4).spawn_handler(|_| Err(std::io::Error::other("no threads")));
        assert!(none.build().is_err());
        let own = std::thread::spawn(|| {
            builder(1).use_current_thread().build().map(|_| rayon::current_num_threads())
        });
        assert_eq!(own.join().expect("no panic").ok(), Some(1));
    }
}
