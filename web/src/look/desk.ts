/** The styles of the Desk. They are in one place, because what comes later has the last word: apart, they would come in any order. */
import './desk/frame.css';
import './desk/list.css';
import './desk/arranged.css';
import './desk/slips.css';
import './desk/timeline.css';
import './desk/files.css';
import './desk/parted.css';
import './desk/rich-text.css';
import './desk/record.css';
import './desk/form.css';
import './desk/child-rows.css';
import './desk/route.css';
import './desk/query.css';
import './desk/public-page.css';
import './desk/print.css';
