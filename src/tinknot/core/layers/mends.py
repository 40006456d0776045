"""What is done about a fault, where several layers say the same."""

from tinknot.core.layers.contract import Mend

CUT_OUT = Mend("Cut the joint out and start again", "remake")
END_AGAIN = Mend("Cut the end back and prepare it again", "end-again")
