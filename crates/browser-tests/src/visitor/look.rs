//! How a thing is found by its words, in one go on the page itself.
//!
//! A path over all elements that asks each for all its words reads a page of a thousand elements some thousand times
//! over; a walk asks every sixty milliseconds, on the two cores that are to draw what it waits for.

/// What is looked for by a name.
#[derive(Debug, Clone, Copy)]
pub(super) enum Look {
    /// The innermost element that holds these words.
    Words,
    /// What is clicked: a button, link, label, menu item or option.
    Deed,
    /// A button, by its words alone.
    Button,
    /// The field of a label.
    Field,
    /// The box to tick of a label that is, or holds something that is, these words.
    Tick,
    /// The box to tick of a label that begins with these words.
    TickBeginning,
}

/// What the scripts below share. An element is seen when it is drawn, takes up room and lets something through;
/// what lies in a dialog comes before what lies behind it.
pub(super) const HELPERS: &str = r"
    const wanted = arguments[0].replace(/[ \t\n\r]+/g, ' ').trim();
    const words = (one) => one.textContent.replace(/[ \t\n\r]+/g, ' ').trim();
    const seen = (one) =>
      one.getClientRects().length > 0 && one.checkVisibility({ visibilityProperty: true, opacityProperty: true });
    const found = (css, holds, at) => [...at.querySelectorAll(css)].find((one) => holds(one) && seen(one));
    const dialogs = [...document.querySelectorAll('[role=dialog], [role=alertdialog]')].filter(seen);
    const first = (css, holds) =>
      (dialogs.length && found(css, holds, dialogs.at(-1))) || found(css, holds, document) || null;
    const labels = (holds) =>
      new Set([...document.querySelectorAll('label[for]')].filter(holds).map((label) => label.htmlFor));
    const named = (css, holds) => {
      const ids = labels(holds);
      return first(css, (one) => ids.has(one.id) || one.getAttribute('aria-label') === wanted);
    };
    const innermost = (one) => {
      if (!words(one).includes(wanted)) return null;
      let deeper = false;
      for (const child of one.children) {
        if (!words(child).includes(wanted)) continue;
        deeper = true;
        const found = innermost(child);
        if (found) return found;
      }
      return !deeper && seen(one) ? one : null;
    };
";

impl Look {
    /// The expression that finds it.
    pub(super) fn script(self) -> &'static str {
        match self {
            Self::Words => "innermost(document.body)",
            Self::Deed => {
                "first('button, a, label, [role=menuitem], [role=menuitemradio], [role=option]', (one) =>
                   words(one) === wanted || one.getAttribute('aria-label') === wanted)"
            }
            Self::Button => "first('button', (one) => words(one) === wanted)",
            Self::Field => "named('input, textarea, [role=combobox], [data-day]', (label) => words(label) === wanted)",
            Self::Tick => {
                "named('button[role=checkbox]', (label) =>
                   words(label) === wanted || [...label.querySelectorAll('*')].some((one) => words(one) === wanted))"
            }
            Self::TickBeginning => "named('button[role=checkbox]', (label) => words(label).startsWith(wanted))",
        }
    }
}
