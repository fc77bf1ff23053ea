"""Participants' questions about their experience, in the words they are asked in."""

# Brooke's ten statements (1996), in his words but for "system", which here is the computer in front of the person.
USABILITY_ITEMS = (
    "I think that I would like to use this computer frequently.",
    "I found this computer unnecessarily complex.",
    "I thought this computer was easy to use.",
    "I think that I would need the support of a technical person to be able to use this computer.",
    "I found the various functions in this computer were well integrated.",
    "I thought there was too much inconsistency in this computer.",
    "I would imagine that most people would learn to use this computer very quickly.",
    "I found this computer very cumbersome to use.",
    "I felt very confident using this computer.",
    "I needed to learn a lot of things before I could get going with this computer.",
)
# The Single Ease Question (Sauro and Dumas, 2009); asked before a card it is about what is expected.
EASE = "Overall, how difficult or easy was this task?"
EXPECTATION = "How difficult or easy do you expect this task to be?"
PREFERENCE = "Which of these computers would you rather have?"
EASE_ENDS = ("very difficult", "very easy")
AGREEMENT_ENDS = ("strongly disagree", "strongly agree")
EASE_MOST = 7
AGREEMENT_MOST = 5
